<script lang="ts">
  /** Keys seen in the samples against rows: bars by how often, and beneath each whether a row answers it. */
  import { counted } from '$lib/counted.ts';
  import { ownSentences, ownWriting } from '$lib/organisation.svelte.ts';
  import type { Cell } from '@rigid-rule/core/document';
  import { scaleSqrt } from 'd3-scale';
  import { cellText } from '@rigid-rule/core/compile';
  import type { TableState } from './table.svelte.ts';

  interface Props {
    state: TableState;
    /** Goes to a row of the table. */
    goTo: (row: number) => void;
  }
  const { state: grid, goTo }: Props = $props();

  const mostBars = 40;
  const coverage = $derived(grid.coverage ?? { hits: [], gaps: [], blank: 0, total: 0 });
  interface Bar {
    readonly name: string;
    readonly count: number;
    readonly row?: number;
    readonly twice?: boolean;
  }
  const keyName = (cells: Readonly<Record<string, Cell>>) =>
    grid.table.keys.map((c) => cellText(cells[c.key], ownSentences)).join(', ');
  const bars = $derived.by((): readonly Bar[] => {
    const seen: Bar[] = coverage.hits.flatMap((count, row) =>
      count > 0 ? [{ name: keyName(grid.table.rows[row]!), count, row, twice: grid.named.has(row) }] : [],
    );
    const gaps: Bar[] = coverage.gaps.map((g) => ({ name: keyName(g.cells), count: g.count }));
    return [...seen, ...gaps].sort((a, b) => b.count - a.count);
  });
  const drawn = $derived(bars.slice(0, mostBars));
  const commonest = $derived(bars.slice(0, 2));
  const unseen = $derived(coverage.hits.filter((h) => h === 0).length);
  const gapCount = $derived(coverage.gaps.length);
  const records = $derived(coverage.gaps.reduce((sum, g) => sum + g.count, 0));
  const [width, high] = [720, 40];
  const step = $derived(Math.min(24, width / Math.max(drawn.length, 1)));
  const height = $derived(scaleSqrt([0, Math.max(1, ...drawn.map((b) => b.count))], [0, high]));
  const colour = (b: Bar) => (b.row === undefined ? 'var(--brass)' : b.twice ? 'var(--stop)' : 'var(--bars)');
</script>

<figure class="px-6 pt-1 pb-2">
  <figcaption class="flex flex-wrap justify-between gap-x-4 text-small text-faint">
    <span class="min-w-0"
      >{grid.source?.recordType.plural} in the samples by {grid.table.keys
        .map((c) => c.name.toLowerCase())
        .join(' and ')}, most seen first{#if bars.length > mostBars}, the first {mostBars} of {ownWriting(
          bars.length,
        )}{/if}</span
    >
    <span>bars by square root; below the line, a row in the table</span>
  </figcaption>
  <svg
    viewBox="0 0 {width} {high + 14}"
    class="mt-1 w-full"
    style="max-height:70px"
    role="img"
    aria-hidden={!grid.coverage}
    aria-label="{counted(bars.length - gapCount, 'key seen has', 'keys seen have')} a row, {gapCount} {gapCount === 1
      ? 'has'
      : 'have'} none, {counted(unseen, 'row is', 'rows are')} not seen"
  >
    <line x1="0" x2={width} y1={high + 1} y2={high + 1} stroke="var(--line)" />
    {#each drawn as bar, i (i)}
      <g>
        <title>{bar.name}: {ownWriting(bar.count)}{bar.row === undefined ? ', no row' : `, row ${bar.row + 1}`}</title>
        <rect
          x={i * step + 1}
          y={high - height(bar.count)}
          width={step - 3}
          height={height(bar.count)}
          fill={colour(bar)}
          fill-opacity={bar.row === undefined ? 0.55 : 1}
        />
        {#if bar.row === undefined}
          <rect
            x={i * step + 1.5}
            y={high + 4.5}
            width={step - 4}
            height="8"
            fill="none"
            stroke="var(--brass)"
            stroke-dasharray="2 2"
          />
        {:else}
          <rect
            x={i * step + 1}
            y={high + 4}
            width={step - 3}
            height="9"
            fill={bar.twice ? 'var(--stop)' : 'var(--ink)'}
          />
        {/if}
      </g>
    {/each}
  </svg>
  <p class="flex min-h-6 flex-wrap gap-x-4 text-small text-soft">
    {#if !grid.coverage}<span role="status">The samples are being looked at …</span>{:else}
      {#each commonest as bar, i (i)}
        {#if bar.row !== undefined}<button type="button" class="word" onclick={() => goTo(bar.row!)}
            >{bar.name} {ownWriting(bar.count)}</button
          >{:else}<span class="text-brass-ink">{bar.name} {ownWriting(bar.count)}</span>{/if}
      {/each}
      {#if bars.length > mostBars}<span>the {mostBars} commonest of {ownWriting(bars.length)} keys are drawn</span>{/if}
      {#if gapCount > 0}<span class="text-brass-ink"
          >{gapCount} without a row, {ownWriting(records)} of {counted(coverage.total, 'record')}</span
        >{:else}<span class="text-ok">every key that is seen has a row</span>{/if}
      {#if coverage.blank > 0}<span>{ownWriting(coverage.blank)} blank</span>{/if}
      <span class="ml-auto">{unseen === 1 ? '1 row' : `${ownWriting(unseen)} rows`} not seen</span>
    {/if}
  </p>
</figure>
