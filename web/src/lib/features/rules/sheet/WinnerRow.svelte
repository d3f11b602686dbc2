<script lang="ts">
  /** Whether the rule or a person wins. It is said of a field: all its rules say the same. */
  import { winners, type Rule } from '@rigid-rule/core/document';
  import type { Draft } from '$lib/features/draft/draft.svelte.ts';
  import SheetRow from '$lib/ui/SheetRow.svelte';

  interface Props {
    rule: Rule;
    /** The other rules of its fields. */
    siblings: readonly Rule[];
    draft: Draft;
    readonly: boolean;
  }
  const { rule, siblings, draft, readonly }: Props = $props();
  const winner = $derived(winners.find((w) => w.key === rule.winner)!);
  function setWinner(key: string) {
    const parts = [rule, ...siblings].map((r) => ({ kind: 'rule', key: r.key }) as const);
    draft.editAll(
      parts.map((part) => ({ ref: part, operations: [{ op: 'add', path: '/winner', value: key }] })),
      'change who wins',
    );
  }
</script>

<SheetRow label="If someone entered a value">
  {#if readonly}
    {winner.name}
  {:else}
    <select
      class="editable"
      aria-label="If someone entered a value"
      value={rule.winner}
      onchange={(e) => setWinner(e.currentTarget.value)}
    >
      {#each winners as w (w.key)}<option value={w.key}>{w.name}</option>{/each}
    </select>
  {/if}
  <span class="quiet ml-2">{winner.help}</span>
</SheetRow>
