<script lang="ts">
  /** A rule that divides a number or a date, with the values that its tests send as pins; proposed ones dotted. */
  import { clipped, drawn, letters, type PlacedText } from '$lib/ui/drawn-texts.ts';
  import { layoutRuler } from '../rule-kinds/parts/ruler-layout.ts';
  import { bandText, type CompiledRule, type TypeProgram } from '@rigid-rule/core/compile';
  import { fieldTypeOf } from '@rigid-rule/core/language';
  import { shownValue } from '$lib/features/fields';
  import { ownSentences } from '$lib/organisation.svelte.ts';
  import type { Field } from '@rigid-rule/core/document';
  import { placePins, type Pin } from './pins.ts';

  interface Props {
    compiled: CompiledRule;
    program: TypeProgram;
    source: Field;
    pins: readonly Pin[];
    proposed: readonly Pin[];
    /** How many cases send blank. */
    blank: number;
  }
  const { compiled, program, source, pins, proposed, blank }: Props = $props();
  let width = $state(600);
  const height = 104;
  const [left, right, top] = [44, 44, 62];

  const division = $derived(compiled.structure.division!);
  const target = $derived(program.slots[compiled.writes[0] ?? -1]?.field);
  const result = (i: number): string => {
    const band = division.bands[i]!;
    const value = band.result;
    return target ? shownValue(target, value as never) : String(value);
  };
  const inner = $derived(Math.max(200, width - left - right));
  const all = $derived([...pins, ...proposed].map((p) => p.value));
  const ends = $derived(division.bands.flatMap((b) => [b.from, b.to]).filter((v): v is number => v !== undefined));
  const layout = $derived(
    layoutRuler(
      division.bands,
      { min: Math.min(...all, ...ends), max: Math.max(...all, ...ends, (ends.at(-1) ?? 0) * 1.6) },
      inner,
    ),
  );
  /** Where the bands begin and end as a whole, if they do. */
  const outer = $derived(
    [division.bands[0]?.from, division.bands.at(-1)?.to].filter(
      (v): v is number => v !== undefined && !layout.stops.some((s) => s.value === v),
    ),
  );
  const boundaries = $derived([...layout.stops.map((s) => s.value), ...outer]);
  const placed = $derived(
    placePins(
      [...pins, ...proposed.filter((p) => !pins.some((q) => q.value === p.value))],
      boundaries,
      layout.x,
      inner,
    ),
  );
  const isProposed = (p: Pin) => !pins.some((q) => q.value === p.value);
  const word = (v: number) => shownValue(source, (fieldTypeOf(source).at?.(v) ?? v) as never);
  const middle = (value: number, text: string, colour: string): PlacedText & { readonly colour: string } => ({
    text,
    x: layout.x(value),
    anchor: 'middle',
    colour,
  });
  const numbers = $derived(
    drawn(
      [
        ...layout.stops.map((s) => middle(s.value, word(s.value), 'var(--brass-ink)')),
        ...outer.map((v) => middle(v, word(v), 'var(--soft)')),
      ],
      letters.word,
    ),
  );
  /** What fails is marked by its pin in any case, and said as far as there is room. */
  const failing = $derived(
    drawn(
      placed
        .filter((p) => p.failing)
        .map((p) => ({ text: `${word(p.value)} fails`, x: p.x, anchor: 'middle' as const })),
      letters.name,
    ),
  );
</script>

<div bind:clientWidth={width} class="my-4">
  <svg
    {width}
    {height}
    role="img"
    aria-label="{pins.length} tried values on the bands of {source.name}"
    class="block overflow-visible"
  >
    <g transform="translate({left},0)">
      {#each layout.pieces as piece, nth (nth)}
        {#if piece.kind === 'band'}
          <rect
            x={piece.x0}
            y={top}
            width={piece.x1 - piece.x0}
            height="26"
            fill="var(--sheet)"
            stroke="var(--ink)"
            stroke-width="1.4"
          />
          <text x={(piece.x0 + piece.x1) / 2} y={top + 17} text-anchor="middle" font-weight="650" fill="var(--ink)"
            >{clipped(result(piece.band), piece.x1 - piece.x0 - 4, letters.name)}<title>{result(piece.band)}</title
            ></text
          >
        {:else}
          <rect
            x={piece.x0}
            y={top}
            width={piece.x1 - piece.x0}
            height="26"
            fill="none"
            stroke="var(--stop)"
            stroke-dasharray="2 2"
          />
          <text x={(piece.x0 + piece.x1) / 2} y={top + 17} text-anchor="middle" fill="var(--stop)">gap</text>
        {/if}
      {/each}
      {#each layout.stops as stop, nth (nth)}
        <line x1={stop.x} x2={stop.x} y1={top - 5} y2={top + 26} stroke="var(--brass)" stroke-width="2" />
        <rect x={stop.upper ? stop.x : stop.x - 9} y={top - 6} width="9" height="5" fill="var(--brass)" />
      {/each}
      {#each numbers as n, nth (nth)}
        <text x={n.x} y={top + 41} text-anchor="middle" fill={n.colour}>{n.text}</text>
      {/each}
      {#if blank > 0}
        <rect x={inner + 8} y={top} width="30" height="26" fill="none" stroke="var(--edge)" stroke-dasharray="2 2" />
        <line x1={inner + 23} x2={inner + 23} y1={top - 22} y2={top - 2} stroke="var(--ok)" stroke-width="1.6" />
        <circle cx={inner + 23} cy={top - 26} r="4.5" fill="var(--ok)" />
        <text x={inner + 23} y={top - 38} text-anchor="middle" fill="var(--soft)" font-size="12">blank</text>
      {/if}
      {#each placed as pin, nth (nth)}
        {@const colour = pin.failing ? 'var(--stop)' : isProposed(pin) ? 'var(--brass)' : 'var(--ok)'}
        <g>
          <title>{pin.text}</title>
          <line
            x1={pin.x}
            x2={pin.x}
            y1={top - 22}
            y2={top - 2}
            stroke={colour}
            stroke-width="1.6"
            stroke-dasharray={isProposed(pin) ? '2 2' : undefined}
          />
          <circle
            cx={pin.x}
            cy={top - 26}
            r="4.5"
            fill={pin.failing || isProposed(pin) ? 'var(--sheet)' : colour}
            stroke={colour}
            stroke-width="1.6"
            stroke-dasharray={isProposed(pin) ? '2 2' : undefined}
          />
        </g>
      {/each}
      {#each failing as f, nth (nth)}
        <text x={f.x} y={top - 38} text-anchor="middle" font-weight="650" fill="var(--stop)">{f.text}</text>
      {/each}
    </g>
  </svg>
  <p class="sr-only">{division.bands.map((b) => bandText(b, division.dates, ownSentences)).join(', ')}</p>
</div>
