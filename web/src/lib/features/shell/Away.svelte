<script lang="ts">
  /** Lies over a page of somebody who is no longer signed in: nobody sees it, and what was typed in it is not lost. */
  import { page } from '$app/state';
  import type { Presence } from './presence.svelte.ts';

  interface Props {
    presence: Exclude<Presence, 'here'>;
    name: string;
  }
  const { presence, name }: Props = $props();

  let cover: HTMLDialogElement;
  const lay = () => cover.isConnected && !cover.open && cover.showModal();
  $effect(() => void lay());
  const address = $derived(page.url.pathname + page.url.search);
</script>

<dialog
  bind:this={cover}
  class="fixed inset-0 grid size-full max-h-none max-w-none place-content-center gap-3 bg-paper p-6 text-ink"
  aria-labelledby="away"
  oncancel={(e) => e.preventDefault()}
  onclose={lay}
>
  <h1 id="away">{presence === 'gone' ? 'You are signed out' : 'Somebody else is signed in here now'}</h1>
  <p class="max-w-[46ch]">
    This page is {name}’s. It comes back as it was left once {name} is signed in again in another tab.
  </p>
  <p>
    <a
      class="button"
      href={presence === 'gone' ? `/sign-in?next=${encodeURIComponent(address)}` : address}
      data-sveltekit-reload>{presence === 'gone' ? 'Sign in here instead' : 'Load it anew'}</a
    >
  </p>
</dialog>
