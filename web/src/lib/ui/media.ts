import { onMount } from 'svelte';

/** Says whether a media query holds, once the page is alive and whenever that changes. */
export function followMedia(query: string, follow: (holds: boolean) => void): void {
  onMount(() => {
    const media = matchMedia(query);
    const say = () => follow(media.matches);
    say();
    media.addEventListener('change', say);
    return () => media.removeEventListener('change', say);
  });
}
