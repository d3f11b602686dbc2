<script lang="ts">
  /** Gets the draft: it comes with the page, or is read on its own where it is large. */
  import { browser } from '$app/environment';
  import { page } from '$app/state';
  import DraftAreas from '$lib/features/draft/DraftAreas.svelte';
  import DraftPending from '$lib/features/draft/DraftPending.svelte';
  import { readDraft } from '$lib/features/draft/follow.ts';
  import { areaAt } from '$lib/features/shell/areas.ts';

  const { data, children } = $props();
  const onServer = new Promise<never>(() => undefined);
  // svelte-ignore state_referenced_locally
  const { parts, stamp } = data;
  const area = $derived(areaAt(page.url.pathname) ?? { name: 'Draft', href: '/' });
  let draft = $state.raw(parts ? { parts, stamp } : browser ? readDraft() : onServer);
</script>

<svelte:head>
  {#if !parts && !browser}<link rel="preload" as="fetch" crossorigin="anonymous" href="/api/draft/parts" />{/if}
</svelte:head>

{#await draft}
  <DraftPending area={area.name} />
{:then draft}
  <DraftAreas {...draft} {area} users={data.users} rights={data.rights}>{@render children()}</DraftAreas>
{:catch}
  <DraftPending area={area.name} again={() => (draft = readDraft())} />
{/await}
