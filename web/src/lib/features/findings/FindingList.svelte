<script lang="ts">
  /** What the rules as a whole say is wrong here: each repaired in one act, or accepted with a reason. */
  import type { Finding } from '@rigid-rule/core';
  import type { Draft } from '../draft/draft.svelte.ts';

  interface Props {
    draft: Draft;
    findings: readonly Finding[];
    /** Beside the labels of a sheet, whose text begins further right. */
    onSheet?: boolean;
  }
  const { draft, findings, onSheet = false }: Props = $props();
  let accepting = $state<string>();
  let reason = $state('');

  function accept(f: Finding) {
    if (!reason.trim()) return;
    draft.accept(f, reason.trim());
    accepting = undefined;
    reason = '';
  }
</script>

{#if findings.length > 0}
  <section class={['findings', onSheet && 'on-sheet']} aria-label="Findings">
    <span class="shrink-0 font-[650]">{findings.length} finding{findings.length === 1 ? '' : 's'}</span>
    <ul class="flex min-w-0 flex-col gap-1">
      {#each findings as f, i (`${f.key} ${i}`)}
        <li class={f.severity === 'error' ? 'text-stop' : ''}>
          {f.sentence}
          {#if draft.editable}
            {#if f.repair}<button type="button" class="editable ml-1" onclick={() => draft.repair(f)}
                >{f.repair.text}</button
              >{/if}
            {#if f.severity !== 'error'}
              {#if accepting === f.key}
                <form
                  class="flex gap-2"
                  onsubmit={(e) => {
                    e.preventDefault();
                    accept(f);
                  }}
                >
                  <!-- svelte-ignore a11y_autofocus -->
                  <input
                    autofocus
                    class="editable flex-1"
                    aria-label="Why this is right as it is"
                    placeholder="why it is right as it is, then Enter"
                    bind:value={reason}
                    onkeydown={(e) => e.key === 'Escape' && (accepting = undefined)}
                  />
                </form>
              {:else}
                <button
                  type="button"
                  class="word ml-1"
                  aria-label="Accept: {f.sentence}"
                  onclick={() => (accepting = f.key)}>accept</button
                >
              {/if}
            {/if}
          {/if}
        </li>
      {/each}
    </ul>
  </section>
{/if}

<style>
  .findings {
    padding: 8px 12px;
    border-left: 3px solid var(--brass);
    background: var(--brass-wash);
    margin: 6px 0 14px;
  }
  .findings :global(.word) {
    color: var(--brass-ink);
  }
  .on-sheet {
    display: flex;
    gap: 9px;
    margin: 6px 0 10px 130px;
  }
  @media (max-width: 1100px) {
    .on-sheet {
      margin-left: 0;
    }
  }
</style>
