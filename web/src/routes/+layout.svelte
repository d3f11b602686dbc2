<script lang="ts">
  import '../app.css';
  import { keepPresses } from '$lib/ui/press.ts';
  import { onMount } from 'svelte';

  const { children } = $props();
  onMount(() => keepPresses(window));
</script>

{@render children()}
