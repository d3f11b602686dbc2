<script lang="ts">
  /** How many go from which value to which: a ribbon for each move, chosen to see the records behind it. */
  import { becomes } from '@rigid-rule/core/language';
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { shownText } from '$lib/features/fields';
  import { clipped, letters } from '$lib/ui/drawn-texts.ts';
  import { apartBy, flowPicture, otherValues, type Flow } from './flows.ts';
  import type { FieldMoves } from '@rigid-rule/core/rule-tests';

  interface Props {
    field: FieldMoves;
    /** Values in the order of the field's options. */
    order: readonly string[];
    before: string;
    after: string;
    chosen: { readonly from: string; readonly to: string } | undefined;
    choose: (from: string, to: string) => void;
  }
  const { field, order, before, after, chosen, choose }: Props = $props();
  const said = (value: string) => (value === otherValues ? 'other values' : shownText(field.written, value));
  let width = $state(700);
  const picture = $derived(flowPicture(field, order));
  const [bar, top, gap] = [9, 26, 9];
  /** Room for a number at its longest, and for the name of a value. */
  const numbers = $derived(
    [...picture.before, ...picture.after].flatMap((b) => [ownWriting(b.count), change(b.value)]),
  );
  const numberRoom = $derived(Math.max(...numbers.map((n) => n.length)) * letters.figure);
  const nameRoom = 14 * letters.name;
  const left = $derived(gap + numberRoom + gap + nameRoom);
  const right = $derived(gap + numberRoom + gap + nameRoom + gap + numberRoom);
  const x0 = $derived(left + bar);
  const x1 = $derived(width - right - bar);
  const middle = $derived((x0 + x1) / 2);
  const ribbon = (f: Flow) =>
    `M${x0},${top + f.y0} C${middle},${top + f.y0} ${middle},${top + f.y1} ${x1},${top + f.y1} V${top + f.y1 + f.h1} C${middle},${top + f.y1 + f.h1} ${middle},${top + f.y0 + f.h0} ${x0},${top + f.y0 + f.h0} Z`;
  const isOn = (f: Flow) => chosen?.from === f.from && chosen.to === f.to;
  const colour = (f: Flow) => (f.stays ? 'var(--bars)' : f.to === 'blank' ? 'var(--stop)' : 'var(--held)');
  const word = (f: Flow) =>
    f.stays
      ? `${ownWriting(f.records)} stay`
      : f.to === 'blank'
        ? `${ownWriting(f.records)} lost`
        : f.from === 'blank'
          ? `${ownWriting(f.records)} filled in`
          : `${ownWriting(f.records)} move`;
  /** Where there are many, only of those that are not thin. */
  const labels = $derived.by(() => {
    const named = picture.flows.filter((f) => !f.stays && (f.h0 >= 12 || picture.flows.length < 8));
    const places = apartBy(
      14,
      named.map((f) => top + f.y0 + f.h0 / 2 + 4),
    );
    return named.map((flow, i) => ({ flow, y: places[i]! }));
  });
  const change = (value: string) => {
    const [a, b] = [
      picture.before.find((x) => x.value === value)?.count ?? 0,
      picture.after.find((x) => x.value === value)?.count ?? 0,
    ];
    return b === a ? '' : `${b > a ? '+' : '−'}${ownWriting(Math.abs(b - a))}`;
  };
</script>

<div bind:clientWidth={width}>
  <svg
    {width}
    height={picture.height + top + 10}
    role="group"
    aria-label="{field.field}, before and after"
    class="block"
  >
    <text x={x0} y="12" text-anchor="end" fill="var(--soft)">{before}</text>
    <text x={x1} y="12" fill="var(--soft)">{after}</text>
    {#each picture.flows.filter((f) => f.stays) as f, nth (nth)}
      <path d={ribbon(f)} fill={colour(f)} opacity="0.7" />
      {#if picture.cut && f.h0 >= 30}
        {@const y = top + f.y1}
        <path
          d="M{x1 - 34},{y - 3} l6,{f.h1 / 4} l-8,{f.h1 / 4} l8,{f.h1 / 4} l-6,{f.h1 / 4 + 6}"
          fill="none"
          stroke="var(--sheet)"
          stroke-width="5"
        />
      {/if}
    {/each}
    {#each picture.flows.filter((f) => !f.stays) as f, nth (nth)}
      <g
        role="button"
        tabindex="0"
        aria-label="{field.field}: {ownWriting(f.records)} from {said(f.from)} to {said(f.to)}"
        aria-pressed={isOn(f)}
        class="cursor-pointer"
        onclick={() => choose(f.from, f.to)}
        onkeydown={(e) => {
          if (e.key !== 'Enter' && e.key !== ' ') return;
          e.preventDefault();
          choose(f.from, f.to);
        }}
      >
        <path
          d={ribbon(f)}
          fill={colour(f)}
          opacity={isOn(f) ? 0.62 : 0.42}
          stroke={isOn(f) ? 'var(--brass)' : 'none'}
          stroke-width="1.6"
        />
        <title>{becomes(said(f.from), said(f.to))}: {ownWriting(f.records)}</title>
      </g>
    {/each}
    <!-- Above all ribbons, or one would be drawn over the words of another. -->
    <g class="words">
      {#each picture.flows.filter((f) => f.stays && f.h0 > 16) as f, nth (nth)}
        <text x={x0 + 130} y={top + f.y0 + f.h0 / 2 + 4 + (f.y1 - f.y0) * 0.2}>{word(f)}</text>
      {/each}
      {#each labels as { flow, y }, nth (nth)}<text x={x0 + 20} {y} font-weight="650">{word(flow)}</text>{/each}
    </g>
    {#each picture.before as b, nth (nth)}
      {#if b.count > 0}
        <rect x={left} y={top + b.y} width={bar} height={b.height} fill="var(--ink)" />
        <text x={left - gap} y={top + b.y + Math.min(b.height, 40) / 2 + 4} text-anchor="end" fill="var(--soft)"
          >{ownWriting(b.count)}</text
        >
        <text
          x={left - gap - numberRoom - gap}
          y={top + b.y + Math.min(b.height, 40) / 2 + 4}
          text-anchor="end"
          font-weight={b.value === 'blank' ? 400 : 650}
          fill={b.value === 'blank' ? 'var(--soft)' : 'var(--ink)'}
          >{clipped(said(b.value), nameRoom, letters.name)}<title>{said(b.value)}</title></text
        >
      {/if}
    {/each}
    {#each picture.after as b, nth (nth)}
      {#if b.count > 0 || change(b.value)}
        <rect x={x1} y={top + b.y} width={bar} height={b.height} fill="var(--ink)" />
        <text x={x1 + bar + gap} y={top + b.y + Math.min(b.height, 40) / 2 + 4} fill="var(--soft)"
          >{ownWriting(b.count)}</text
        >
        <text
          x={x1 + bar + gap + numberRoom + gap}
          y={top + b.y + Math.min(b.height, 40) / 2 + 4}
          font-weight={b.value === 'blank' ? 400 : 650}
          fill={b.value === 'blank' ? 'var(--soft)' : 'var(--ink)'}
          >{clipped(said(b.value), nameRoom, letters.name)}<title>{said(b.value)}</title></text
        >
        <text x={width} y={top + b.y + Math.min(b.height, 40) / 2 + 4} text-anchor="end" fill="var(--soft)"
          >{change(b.value)}</text
        >
      {/if}
    {/each}
  </svg>
</div>

<style>
  .words {
    fill: var(--ink);
    stroke: var(--sheet);
    stroke-width: 3;
    stroke-opacity: 0.55;
    paint-order: stroke;
    pointer-events: none;
  }
</style>
