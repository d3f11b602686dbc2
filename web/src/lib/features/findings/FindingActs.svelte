<script lang="ts">
  /** What can be done about a finding: repaired in one act, accepted with a reason, opened again. */
  import type { Finding } from '@rigid-rule/core/analysis';
  import type { Draft } from '../draft/draft.svelte.ts';

  interface Props {
    draft: Draft;
    finding: Finding;
  }
  const { draft, finding }: Props = $props();
  let accepting = $state(false);
  let reason = $state('');

  function accept(e: SubmitEvent) {
    e.preventDefault();
    if (!reason.trim()) return;
    draft.accept(finding, reason.trim());
    accepting = false;
  }
</script>

{#if draft.editable}
  <span class="inline-flex flex-wrap items-baseline gap-x-3">
    {#if finding.accepted !== undefined}
      <button type="button" class="word" onclick={() => draft.reopen(finding)}>open it again</button>
    {:else}
      {#if finding.repair}<button type="button" class="editable" onclick={() => draft.repair(finding)}
          >{finding.repair.text}</button
        >{/if}
      {#if finding.severity !== 'error' && !accepting}
        <button type="button" class="word" aria-label="Accept: {finding.sentence}" onclick={() => (accepting = true)}
          >accept</button
        >
      {/if}
    {/if}
  </span>
  {#if accepting}
    <form class="flex items-baseline gap-2" onsubmit={accept}>
      <!-- svelte-ignore a11y_autofocus -->
      <input
        autofocus
        class="editable min-w-0 flex-1"
        aria-label="Why this is right as it is"
        placeholder="why it is right as it is"
        bind:value={reason}
        onkeydown={(e) => e.key === 'Escape' && (accepting = false)}
      />
      <button type="submit" class="button" disabled={!reason.trim()}>Accept</button>
    </form>
  {/if}
{/if}
