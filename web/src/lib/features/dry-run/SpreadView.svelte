<script lang="ts">
  /** A number before and after, as two histograms on one axis: before below the line, after above it. */
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import type { FieldMoves } from '@rigid-rule/core/rule-tests';
  import { letters } from '$lib/ui/drawn-texts.ts';
  import { scaleLinear } from 'd3-scale';

  interface Props {
    field: FieldMoves;
    before: string;
    after: string;
  }
  const { field, before, after }: Props = $props();
  let width = $state(700);
  const spread = $derived(field.spread!);
  const half = 62;
  /** Room for what is before and after, as it is called. */
  const left = $derived(Math.max(before.length, after.length) * letters.word + 8);
  const most = $derived(Math.max(1, ...spread.before, ...spread.after));
  const y = $derived(scaleLinear([0, most], [0, half - 6]));
  const x = $derived(scaleLinear([0, spread.before.length], [left, width - 20]));
  const round = (v: number) => ownWriting(Math.abs(v) >= 100 ? Math.round(v) : Math.round(v * 100) / 100);
</script>

<div bind:clientWidth={width} class="mb-2">
  <svg {width} height={half * 2 + 22} role="img" aria-label="{field.field}: how its values are spread before and after">
    <text x="0" y={half - 20} fill="var(--held)">{after}</text>
    <text x="0" y={half + 30} fill="var(--soft)">{before}</text>
    {#each spread.after as n, i (i)}
      <rect x={x(i) + 1} width={x(1) - x(0) - 2} y={half - y(n)} height={y(n)} fill="var(--held)" opacity="0.7"
        ><title>{ownWriting(n)}</title></rect
      >
    {/each}
    {#each spread.before as n, i (i)}
      <rect x={x(i) + 1} width={x(1) - x(0) - 2} y={half + 1} height={y(n)} fill="var(--tick)"
        ><title>{ownWriting(n)}</title></rect
      >
    {/each}
    <line x1={x(0)} x2={x(spread.before.length)} y1={half} y2={half} stroke="var(--ink)" />
    <text x={x(0)} y={half * 2 + 16} fill="var(--soft)">{round(spread.from)}</text>
    <text x={x(spread.before.length)} y={half * 2 + 16} text-anchor="end" fill="var(--soft)">{round(spread.to)}</text>
  </svg>
</div>
