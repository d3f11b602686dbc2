<script lang="ts">
  import { browser } from '$app/environment';
  import { invalidate } from '$app/navigation';
  import { page } from '$app/state';
  import { openDraft } from '$lib/features/draft/draft.svelte.ts';
  import { Desk } from '$lib/features/rules';

  const { data } = $props();
  const draft = $derived(openDraft(data.parts, data.editable, data.savedAt, browser));

  // The bar at the top counts the changes: it follows once a change is saved.
  let first = true;
  $effect(() => {
    if (draft.state !== 'saved') first = false;
    else if (!first) void invalidate('app:state');
  });
</script>

<Desk
  {draft}
  users={data.users}
  types={data.types}
  typeKey={page.params.type!}
  ruleKey={page.params.rule}
  fieldKey={page.url.searchParams.get('field') ?? undefined}
  sampleNumber={Number(page.url.searchParams.get('sample') ?? 1)}
/>
