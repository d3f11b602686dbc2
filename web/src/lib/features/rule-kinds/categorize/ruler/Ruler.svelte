<script lang="ts">
  /** Bands as a straightedge: stops are dragged, or moved by arrow keys; above it the values of the sample set. */
  import { ownWriting } from '$lib/organisation.svelte.ts';
  import { uniqueId } from '$lib/unique-id.ts';
  import { findBand, type Band } from '@rigid-rule/core/compile';
  import { dragStep, histogram, layoutRuler, type RulerLayout, type RulerStop } from '../../parts/ruler-layout.ts';
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
  // While a stop is dragged the scale stands still, so that the stop stays under the pointer.
  let frozen = $state.raw<RulerLayout>();
  const scale = $derived(frozen ?? live);
  const pieces = $derived(live.pieces.map((p) => (frozen ? { ...p, x0: frozen.x(p.from), x1: frozen.x(p.to) } : p)));
  const bars = $derived(histogram(scale, values));
  const counts = $derived.by(() => {
    const list = bands.map(() => ({ all: 0, zeros: 0 }));
    let outside = 0;
    for (const v of values) {
      const at = findBand(v, bands);
      if (at < 0) outside++;
      else {
        list[at]!.all++;
        if (v === 0) list[at]!.zeros++;
      }
    }
    return { list, outside };
  });

  let dragged = $state<number>();
  let group = '';

  function limits(stop: RulerStop): readonly [number, number] {
    const before = live.stops.findLast((s) => s.value < stop.value)?.value ?? bands[0]?.from ?? -Infinity;
    const after = live.stops.find((s) => s.value > stop.value)?.value ?? bands.at(-1)?.to ?? Infinity;
    return [before + finest, after - finest];
  }

  function to(stop: RulerStop, wanted: number) {
    const [low, high] = limits(stop);
    const clamped = Math.min(high, Math.max(low, wanted));
    const decimals = Math.max(0, -Math.floor(Math.log10(finest)));
    const value = Number(clamped.toFixed(decimals));
    if (value !== stop.value && Number.isFinite(value)) move?.(stop, value, group);
  }

  function grab(e: PointerEvent, index: number) {
    if (!move || e.button !== 0) return;
    (e.currentTarget as Element).setPointerCapture(e.pointerId);
    frozen = live;
    dragged = index;
    group = uniqueId();
  }

  function drag(e: PointerEvent) {
    const stop = dragged === undefined ? undefined : live.stops[dragged];
    if (!stop || !frozen) return;
    const svg = (e.currentTarget as SVGElement).ownerSVGElement!;
    const box = svg.getBoundingClientRect();
    const x = ((e.clientX - box.left) / box.width) * full - endWidth;
    const step = e.altKey ? finest : dragStep(frozen.unitsAt(x), finest);
    to(stop, Math.round(frozen.value(x) / step) * step);
  }

  function letGo() {
    frozen = undefined;
    dragged = undefined;
  }

  function nudge(e: KeyboardEvent, stop: RulerStop) {
    const by = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1, PageUp: 10, PageDown: -10 }[e.key];
    if (!move) return;
    if (by !== undefined) {
      e.preventDefault();
      if (!e.repeat) group = uniqueId();
      to(stop, stop.value + by * finest * (e.shiftKey ? 10 : 1));
    } else if (e.key === ' ' || e.key === 'Enter') {
      e.preventDefault();
      flip?.(stop);
    }
  }

  const edgeLabel = (v: number) => ownWriting(Number(v.toPrecision(15)));
  /** The numbers below the ruler: the boundary that is dragged before all others, the two ends last. */
  const numbers = $derived.by(() => {
    const stops = live.stops.map((stop, i) => ({ text: edgeLabel(stop.value), x: scale.x(stop.value), i }));
    const first = bands[0]?.from === undefined ? '' : edgeLabel(bands[0].from);
    const last = live.pieces.at(-1);
    const texts: (PlacedText & { readonly i?: number })[] = [
      ...stops.filter((s) => s.i === dragged),
      ...stops.filter((s) => s.i !== dragged),
    ].map((s) => ({ ...s, anchor: 'middle' }));
    if (first !== '') texts.push({ text: first, x: 2, anchor: 'start' });
    if (last) texts.push({ text: edgeLabel(last.to), x: width, anchor: 'end' });
    return drawn(texts, letters.number);
  });
  /** How many samples are in a band, as far as there is room to say it. */
  function countText({ all, zeros }: { readonly all: number; readonly zeros: number }, room: number): string {
    const plain = ownWriting(all);
    const whole = zeros > 0 ? `${plain}\u00a0(${zeros} zeros)` : plain;
    return [whole, plain].find((text) => clipped(text, room, letters.word) === text) ?? '';
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
          {@const count = counts.list[piece.band]!}
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
        <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
        <g
          class={['stop', move && 'movable', dragged === i && 'dragged']}
          transform="translate({x} 0)"
          role={move ? 'slider' : undefined}
          tabindex={move ? 0 : undefined}
          aria-label={move ? `Boundary from ${stopName(stop)}` : undefined}
          aria-valuenow={move ? stop.value : undefined}
          aria-valuemin={move && Number.isFinite(limits(stop)[0]) ? limits(stop)[0] : undefined}
          aria-valuemax={move && Number.isFinite(limits(stop)[1]) ? limits(stop)[1] : undefined}
          aria-valuetext={move
            ? `${edgeLabel(stop.value)}, belongs to the band ${stop.upper ? 'above' : 'below'}`
            : undefined}
          onpointerdown={(e) => grab(e, i)}
          onpointermove={drag}
          onpointerup={letGo}
          onpointercancel={letGo}
          onkeydown={(e) => nudge(e, stop)}
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
    <text x={full - blankWidth / 2 + 3} y={top + 17} class="count">blank, {blanks}</text>
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
