<script lang="ts">
  /** What the rules as a whole say is wrong here: each repaired in one act, or accepted with a reason. */
  import { counted } from '$lib/counted.ts';
  import type { Finding } from '@rigid-rule/core/analysis';
  import FindingActs from './FindingActs.svelte';
  import type { Draft } from '../draft/draft.svelte.ts';

  interface Props {
    draft: Draft;
    findings: readonly Finding[];
    /** Beside the labels of a sheet, whose text begins further right. */
    onSheet?: boolean;
  }
  const { draft, findings, onSheet = false }: Props = $props();
</script>

{#if findings.length > 0}
  <section class={['findings', onSheet && 'on-sheet']} aria-label="Findings">
    <span class="shrink-0 font-[650]">{counted(findings.length, 'finding')}</span>
    <ul class="flex min-w-0 flex-col gap-1">
      {#each findings as f, i (`${f.key} ${i}`)}
        <li class={f.severity === 'error' ? 'text-stop' : ''}>
          {f.sentence}
          <FindingActs {draft} finding={f} />
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
