<script lang="ts">
  /** How bands change: the strip that was above the one that is, on one scale; moved boundaries in brass, with who moves. */
  import { boundaryText, findBand, readCategorize, type Band } from '@rigid-rule/core/compile';
  import type { RecordType, Rule } from '@rigid-rule/core/document';
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import { shownValue } from '$lib/features/fields';
  import { ownSentences } from '$lib/organisation.svelte.ts';
  import { clipped, drawn, letters, type PlacedText } from '$lib/ui/drawn-texts.ts';

  interface Props {
    before: Rule;
    after: Rule;
    recordType: RecordType;
    names: readonly [string, string];
  }
  const { before, after, recordType, names }: Props = $props();

  const a = $derived(readCategorize(before.outcome).bands);
  const b = $derived(readCategorize(after.outcome).bands);
  const { dates } = $derived(readCategorize(after.outcome));
  const target = $derived(recordType.fields.find((f) => f.key === readCategorize(after.outcome).target));
  const boundaries = $derived(
    [...new Set([...a, ...b].flatMap((x) => [x.from, x.to].filter((v) => v !== undefined)))].sort((x, y) => x - y),
  );
  let full = $state(520);
  const left = 74;
  const width = $derived(full - left - 2);
  const open = $derived([...a, ...b].some((x) => x.to === undefined));
  /** Boundaries stand evenly: the strip shows order and change, not distance. */
  function x(v: number | undefined, end: 'low' | 'high'): number {
    if (v === undefined) return end === 'low' ? left : left + width;
    const steps = boundaries.length - 1 + (open ? 1 : 0);
    return left + (boundaries.indexOf(v) / Math.max(1, steps)) * width;
  }
  const nameOf = (band: Band) => {
    const coerced = target ? fieldTypeOf(target).coerce(band.result, target) : undefined;
    return coerced && 'value' in coerced ? shownValue(target!, coerced.value) : String(band.result);
  };
  const inA = (v: number) => a.some((band) => band.from === v || band.to === v);
  const inB = (v: number) => b.some((band) => band.from === v || band.to === v);
  /** Stretches between neighbouring boundaries whose result differs. */
  const moved = $derived(
    boundaries.flatMap((from, i) => {
      const to = boundaries[i + 1];
      const probe = to === undefined ? from + 1 : (from + to) / 2;
      const [was, is] = [a[findBand(probe, a)], b[findBand(probe, b)]];
      return was?.result === is?.result ? [] : [{ from, to, now: is ? nameOf(is) : 'no band' }];
    }),
  );
  const numbers = $derived(
    drawn(
      // What came or went is said before what stays.
      boundaries
        .map((v): PlacedText & { v: number; gone: boolean; come: boolean } => ({
          v,
          text: boundaryText(v, dates, ownSentences),
          x: x(v, 'low'),
          anchor: boundaries[0] === v ? 'start' : 'middle',
          gone: inA(v) && !inB(v),
          come: inB(v) && !inA(v),
        }))
        .sort((p, q) => Number(q.come || q.gone) - Number(p.come || p.gone)),
      letters.number,
    ),
  );
  const rows = $derived([
    { bands: a, y: 4, label: names[0], stroke: 'var(--edge)', draft: false },
    { bands: b, y: 50, label: names[1], stroke: 'var(--ink)', draft: true },
  ]);
</script>

<div bind:clientWidth={full} class="my-2">
  <svg width={full} height="98" viewBox="0 0 {full} 98" role="img" aria-label="Bands before and after">
    {#each moved as m, nth (nth)}
      <rect
        x={x(m.from, 'low')}
        y="50"
        width={x(m.to, 'high') - x(m.from, 'low')}
        height="24"
        fill="var(--held-wash)"
      />
    {/each}
    {#each rows as row, nth (nth)}
      <text x="0" y={row.y + 16} class="name">{row.label}</text>
      {#each row.bands as band, i (i)}
        <rect
          x={x(band.from, 'low')}
          y={row.y}
          width={Math.max(0, x(band.to, 'high') - x(band.from, 'low'))}
          height="24"
          fill="none"
          stroke={row.stroke}
          stroke-width="1.3"
        />
        {@const [from, to] = [x(band.from, 'low'), x(band.to, 'high')]}
        <text x={(from + to) / 2} y={row.y + 17} class="band"
          >{clipped(nameOf(band), to - from - 6, letters.word)}<title>{nameOf(band)}</title></text
        >
      {/each}
    {/each}
    {#each boundaries as v, nth (nth)}
      {@const gone = inA(v) && !inB(v)}
      {@const come = inB(v) && !inA(v)}
      {#if come}<path d="M{x(v, 'low')} 46v32" stroke="var(--brass)" stroke-width="2" />{/if}
      {#if gone}<path d="M{x(v, 'low')} 28v22" stroke="var(--brass)" stroke-dasharray="2 2" />{/if}
    {/each}
    {#each numbers as n (n.v)}
      <text x={n.x} y="91" class={['value', n.gone && 'gone', n.come && 'come']} text-anchor={n.anchor}>{n.text}</text>
    {/each}
  </svg>
</div>

<style>
  text {
    font-size: 12.5px;
    fill: var(--soft);
  }
  .band {
    text-anchor: middle;
    fill: var(--ink);
  }
  .value {
    font-family: var(--font-mono);
    font-size: 12px;
  }
  .gone {
    text-decoration: line-through;
  }
  .come {
    fill: var(--brass);
    font-weight: 700;
  }
</style>
