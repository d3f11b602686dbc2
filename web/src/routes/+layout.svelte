<script lang="ts">
  import '../app.css';
  import { keepCompositions } from '$lib/ui/composing.ts';
  import { keepPresses } from '$lib/ui/press.ts';
  import { onMount } from 'svelte';

  const { children } = $props();
  onMount(() => {
    const ends = [keepPresses(window), keepCompositions(window)];
    return () => ends.forEach((end) => end());
  });
</script>

{@render children()}
