<script lang="ts">
  /** Bands as a straightedge: stops are dragged, or moved by arrow keys; above it the values of the sample set. */
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import type { Band } from '@rigid-rule/core/compile';
  import { countsByBand, histogram, layoutRuler, type RulerStop } from '../../parts/ruler-layout.ts';
  import { RulerHand } from './ruler-hand.svelte.ts';
  import { clipped, drawn, letters, type PlacedText } from '$lib/ui/drawn-texts.ts';

  interface Props {
    bands: readonly Band[];
    /** Values of the sample set, sorted; blanks left out. */
    values: readonly number[];
    blanks: number;
    /** A value to point at, such as the one on the bench. */
    marked?: number | null;
    /** The smallest step of the source field. */
    finest: number;
    nameOf: (band: Band) => string;
    /** Absent: the ruler is only read. */
    move?: (stop: RulerStop, value: number, group: string) => void;
    flip?: (stop: RulerStop) => void;
  }
  const { bands, values, blanks, marked = null, finest, nameOf, move, flip }: Props = $props();

  let full = $state(486);
  const endWidth = 34;
  const blankWidth = 64;
  const top = 58;
  const depth = 26;
  const width = $derived(Math.max(120, full - endWidth - blankWidth));
  const extent = $derived({ min: Math.min(0, values[0] ?? 0), max: values.at(-1) ?? 100 });
  const live = $derived(layoutRuler(bands, extent, width));
  const hand = new RulerHand({
    bands: () => bands,
    live: () => live,
    finest: () => finest,
    move: (stop, value, group) => move?.(stop, value, group),
    flip: (stop) => flip?.(stop),
  });
  const scale = $derived(hand.frozen ?? live);
  const pieces = $derived(live.pieces.map((p) => ({ ...p, x0: scale.x(p.from), x1: scale.x(p.to) })));
  const bars = $derived(histogram(scale, values));
  const counts = $derived(countsByBand(bands, values));

  const edgeLabel = (v: number) => ownWriting(Number(v.toPrecision(15)));
  /** The numbers below the ruler: the boundary that is dragged before all others, the two ends last. */
  const numbers = $derived.by(() => {
    const stops = live.stops.map((stop, i) => ({ text: edgeLabel(stop.value), x: scale.x(stop.value), i }));
    const first = bands[0]?.from === undefined ? '' : edgeLabel(bands[0].from);
    const last = live.pieces.at(-1);
    const texts: (PlacedText & { readonly i?: number })[] = [
      ...stops.filter((s) => s.i === hand.dragged),
      ...stops.filter((s) => s.i !== hand.dragged),
    ].map((s) => ({ ...s, anchor: 'middle' }));
    if (first !== '') texts.push({ text: first, x: 2, anchor: 'start' });
    if (last) texts.push({ text: edgeLabel(last.to), x: width, anchor: 'end' });
    return drawn(texts, letters.number);
  });
  /** How many samples are in a band, as far as there is room to say it. */
  function countText({ all, zeros }: { readonly all: number; readonly zeros: number }, room: number): string {
    const plain = ownWriting(all);
    const whole = zeros > 0 ? `${plain}\u00a0(${ownWriting(zeros)} zeros)` : plain;
    return [whole, plain].find((text) => clipped(text, room, letters.word) === text) ?? '';
  }
  const blankText = $derived(
    [`blank, ${ownWriting(blanks)}`, ownWriting(blanks)].find((t) => clipped(t, blankWidth - 4, letters.word) === t) ??
      '',
  );

  function grab(e: PointerEvent, index: number) {
    if (!move || e.button !== 0) return;
    (e.currentTarget as Element).setPointerCapture(e.pointerId);
    hand.grab(index);
  }
  function drag(e: PointerEvent) {
    if (hand.dragged === undefined) return;
    const box = (e.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
    hand.drag(((e.clientX - box.left) / box.width) * full - endWidth, e.altKey);
  }
  function press(e: KeyboardEvent, stop: RulerStop) {
    if (move && hand.press(e, stop)) e.preventDefault();
  }
  const stopName = (s: RulerStop) =>
    [s.ends === undefined ? '' : nameOf(bands[s.ends]!), s.begins === undefined ? '' : nameOf(bands[s.begins]!)]
      .filter(Boolean)
      .join(' to ');
</script>

<div bind:clientWidth={full} class="select-none">
  <svg
    width={full}
    height="128"
    viewBox="0 0 {full} 128"
    class="block overflow-visible"
    role="group"
    aria-label="Bands"
  >
    <g transform="translate({endWidth} 0)">
      {#each bars as bar, i (i)}
        <rect
          x={bar.x}
          y={top - 2 - bar.height * 48}
          width={bar.width}
          height={bar.height * 48}
          fill={bar.spike ? 'var(--tick)' : 'var(--bars)'}
        />
      {/each}
      <rect x="0" y={top} {width} height={depth} fill="var(--field)" stroke="var(--ink)" stroke-width="1.3" />
      {#each pieces as piece, nth (nth)}
        {#if piece.kind === 'gap'}
          <rect
            x={piece.x0}
            y={top}
            width={Math.max(0, piece.x1 - piece.x0)}
            height={depth}
            fill="var(--stop-wash)"
            stroke="var(--stop)"
            stroke-dasharray="2 2"
          />
          <text x={(piece.x0 + piece.x1) / 2} y={top + 17} class="gap">gap</text>
        {:else}
          {@const count = counts[piece.band]!}
          {#each [1, 2, 3, 4] as i (i)}
            <path d="M{piece.x0 + (i * (piece.x1 - piece.x0)) / 5} {top + depth}v-4" stroke="var(--tick)" />
          {/each}
          {@const name = nameOf(bands[piece.band]!)}
          {@const room = piece.x1 - piece.x0 - 4}
          <text x={(piece.x0 + piece.x1) / 2} y={top + 17} class="band"
            >{clipped(name, room, letters.name)}<title>{name}</title></text
          >
          <text x={(piece.x0 + piece.x1) / 2} y={top + 62} class="count">{countText(count, room)}</text>
        {/if}
      {/each}
      {#each numbers as { text, x, anchor, i } (i ?? anchor)}
        <text {x} y={top + 43} class={i === undefined ? 'edge' : 'value'} text-anchor={anchor}>{text}</text>
      {/each}
      {#each live.stops as stop, i (i)}
        {@const x = scale.x(stop.value)}
        {@const [low, high] = move ? hand.limits(stop).map((v) => (Number.isFinite(v) ? v : undefined)) : []}
        <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
        <g
          class={['stop', move && 'movable', hand.dragged === i && 'dragged']}
          transform="translate({x} 0)"
          role={move ? 'slider' : undefined}
          tabindex={move ? 0 : undefined}
          aria-label={move ? `Boundary from ${stopName(stop)}` : undefined}
          aria-valuenow={move ? stop.value : undefined}
          aria-valuemin={low}
          aria-valuemax={high}
          aria-valuetext={move
            ? `${edgeLabel(stop.value)}, belongs to the band ${stop.upper ? 'above' : 'below'}`
            : undefined}
          onpointerdown={(e) => grab(e, i)}
          onpointermove={drag}
          onpointerup={() => hand.letGo()}
          onpointercancel={() => hand.letGo()}
          onkeydown={(e) => press(e, stop)}
          ondblclick={() => flip?.(stop)}
        >
          <rect x="-9" y={top - 20} width="18" height={depth + 44} fill="transparent" />
          <rect class="ring" x="-11" y={top - 20} width="22" height="16" rx="2" />
          <path d="M0 {top - 6}v{depth + 12}" stroke="var(--brass)" stroke-width="2" />
          <path d="M0 {top - 6}l{stop.upper ? 8 : -8}-4v-6h{stop.upper ? -8 : 8}z" fill="var(--brass)" />
        </g>
      {/each}
      {#if marked !== null && pieces[0] && marked >= pieces[0].from}
        <path d="M{scale.x(marked)} {top - 1}l-4.5-7h9z" fill="var(--held)"
          ><title>On the bench: {edgeLabel(marked)}</title></path
        >
      {/if}
    </g>
    {#if bands[0]?.from !== undefined}
      <rect x="1" y={top} width={endWidth - 8} height={depth} class="end" />
      <text x={endWidth / 2 - 3} y={top + 17} class="count">&lt;{edgeLabel(bands[0].from)}</text>
    {/if}
    <rect x={full - blankWidth + 7} y={top} width={blankWidth - 8} height={depth} class="end" />
    <text x={full - blankWidth / 2 + 3} y={top + 17} class="count">{blankText}</text>
  </svg>
</div>

<style>
  text {
    font-size: 12px;
    fill: var(--faint);
    text-anchor: middle;
  }
  .band {
    font-size: 13.5px;
    font-weight: 650;
    fill: var(--ink);
  }
  .gap {
    fill: var(--stop);
  }
  .edge,
  .value {
    font-family: var(--font-mono);
    fill: var(--soft);
  }
  .edge[text-anchor='start'] {
    text-anchor: start;
  }
  .edge[text-anchor='end'] {
    text-anchor: end;
  }
  .value {
    fill: var(--brass);
  }
  .end {
    fill: none;
    stroke: var(--faint);
    stroke-dasharray: 2 2;
  }
  .movable {
    cursor: ew-resize;
    touch-action: none;
  }
  .stop:hover path:first-of-type,
  .stop.dragged path:first-of-type {
    stroke-width: 3;
  }
  .stop:focus-visible {
    outline: none;
  }
  .stop .ring {
    fill: none;
    stroke: none;
  }
  .stop:focus-visible .ring {
    stroke: var(--brass);
    stroke-width: 2;
  }
</style>
