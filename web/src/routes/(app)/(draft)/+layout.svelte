<script lang="ts">
  /** Gets the draft: it comes with the page, or is read on its own where it is large. */
  import { browser } from '$app/environment';
  import DraftAreas from '$lib/features/draft/DraftAreas.svelte';
  import DraftPending from '$lib/features/draft/DraftPending.svelte';
  import { readDraft } from '$lib/features/draft/follow.ts';

  const { data, children } = $props();
  const onServer = new Promise<never>(() => undefined);
  // svelte-ignore state_referenced_locally
  const { parts, stamp } = data;
  let draft = $state.raw(parts ? { parts, stamp } : browser ? readDraft() : onServer);
</script>

<svelte:head>
  {#if !parts && !browser}<link rel="preload" as="fetch" crossorigin="anonymous" href="/api/draft/parts" />{/if}
</svelte:head>

{#await draft}
  <DraftPending />
{:then draft}
  <DraftAreas {...draft} users={data.users} rights={data.rights}>{@render children()}</DraftAreas>
{:catch}
  <DraftPending again={() => (draft = readDraft())} />
{/await}
