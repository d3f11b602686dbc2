/**
 * The drawing of bands on a ruler: pure geometry. Each piece (a band, or a gap between two) has its own linear scale,
 * so that narrow bands stay readable; the scale breaks at the stops.
 */
import { findBand, meet, type Band } from '@rigid-rule/core/compile';
import { scaleLinear } from 'd3-scale';

export interface Piece {
  readonly kind: 'band' | 'gap';
  /** The band, or the one before the gap. */
  readonly band: number;
  readonly from: number;
  readonly to: number;
  readonly x0: number;
  readonly x1: number;
}

/** A boundary that can be moved: the end of one band, the beginning of another, or both at once. */
export interface RulerStop {
  readonly value: number;
  readonly x: number;
  /** Band that ends here, if any. */
  readonly ends?: number;
  /** Band that begins here, if any. */
  readonly begins?: number;
  /** The value itself belongs to the band above it. */
  readonly upper: boolean;
}

export interface RulerLayout {
  readonly pieces: readonly Piece[];
  readonly stops: readonly RulerStop[];
  x(value: number): number;
  value(x: number): number;
  /** Units that one pixel stands for at this place. */
  unitsAt(x: number): number;
}

export interface Extent {
  readonly min: number;
  readonly max: number;
}

const gapShare = 0.45;

export function layoutRuler(bands: readonly Band[], extent: Extent, width: number): RulerLayout {
  const rough = roughPieces(bands, extent);
  const total = rough.reduce((sum, p) => sum + (p.kind === 'gap' ? gapShare : 1), 0) || 1;
  let x = 0;
  const pieces = rough.map((p): Piece => {
    const x0 = x;
    x += (width * (p.kind === 'gap' ? gapShare : 1)) / total;
    return { ...p, x0, x1: x };
  });
  const domain = [...pieces.map((p) => p.from), pieces.at(-1)?.to ?? 1];
  const range = [...pieces.map((p) => p.x0), width];
  const scale = scaleLinear(domain, range).clamp(true);
  return {
    pieces,
    stops: stopsOf(bands, (v) => scale(v)),
    x: (v) => scale(v),
    value: (at) => scale.invert(at),
    unitsAt(at) {
      const piece = pieces.find((p) => at <= p.x1) ?? pieces.at(-1);
      return piece ? (piece.to - piece.from) / Math.max(1, piece.x1 - piece.x0) : 1;
    },
  };
}

function roughPieces(bands: readonly Band[], extent: Extent): Omit<Piece, 'x0' | 'x1'>[] {
  const pieces: Omit<Piece, 'x0' | 'x1'>[] = [];
  bands.forEach((band, i) => {
    const from = band.from ?? Math.min(extent.min, (band.to ?? 1) - 1);
    const to = band.to ?? Math.max(extent.max, from + 1);
    if (to > from) pieces.push({ kind: 'band', band: i, from, to });
    const next = bands[i + 1];
    if (next?.from !== undefined && band.to !== undefined && next.from > band.to)
      pieces.push({ kind: 'gap', band: i, from: band.to, to: next.from });
  });
  return pieces;
}

function stopsOf(bands: readonly Band[], x: (v: number) => number): RulerStop[] {
  const stops: RulerStop[] = [];
  for (let i = 0; i + 1 < bands.length; i++) {
    const [lower, upper] = [bands[i]!, bands[i + 1]!];
    const joined = lower.to === upper.from && lower.to !== undefined && meet(lower, upper) === 'touch';
    if (joined) {
      stops.push({ value: lower.to, x: x(lower.to), ends: i, begins: i + 1, upper: !lower.toClosed });
      continue;
    }
    if (lower.to !== undefined) stops.push({ value: lower.to, x: x(lower.to), ends: i, upper: !lower.toClosed });
    if (upper.from !== undefined)
      stops.push({ value: upper.from, x: x(upper.from), begins: i + 1, upper: !upper.fromOpen });
  }
  return stops;
}

/** The roundest step that a pixel-sized move should make: 1, 2 or 5 times a power of ten, never below `finest`. */
export function dragStep(unitsPerPixel: number, finest: number): number {
  if (unitsPerPixel <= finest) return finest;
  const power = 10 ** Math.floor(Math.log10(unitsPerPixel));
  const step = [1, 2, 5, 10].map((m) => m * power).find((s) => s >= unitsPerPixel)!;
  return Math.max(finest, step);
}

export interface Bar {
  readonly x: number;
  readonly width: number;
  /** 0 to 1, by square root, so that a tail stays visible. */
  readonly height: number;
  readonly spike?: true;
}

const binsPerPiece = 5;
/** A single value that this share of the sample holds is drawn as a spike of its own. */
const spikeShare = 0.02;

/** The sample's values above the ruler. `values` are sorted; those outside the ruler are not drawn. */
export function histogram(layout: RulerLayout, values: readonly number[]): Bar[] {
  const first = layout.pieces[0];
  if (!first) return [];
  const zeros = values.filter((v) => v === 0).length;
  const spike = zeros > spikeShare * values.length && first.from <= 0 && layout.pieces.at(-1)!.to > 0;
  const bins = layout.pieces.flatMap((p) => {
    const size = (p.x1 - p.x0) / binsPerPiece;
    return Array.from({ length: binsPerPiece }, (_, i) => ({ x: p.x0 + i * size, width: size, count: 0 }));
  });
  const last = layout.pieces.at(-1)!.to;
  for (const v of values) {
    if (v < first.from || v > last || (spike && v === 0)) continue;
    const x = layout.x(v);
    const bin = bins.findLast((b) => b.x <= x + 1e-9);
    if (bin) bin.count++;
  }
  const most = Math.max(1, spike ? zeros : 0, ...bins.map((b) => b.count));
  const height = (count: number): number => Math.sqrt(count / most);
  const bars: Bar[] = bins
    .filter((b) => b.count > 0)
    .map((b) => ({ x: b.x + 1, width: Math.max(1, b.width - 2), height: height(b.count) }));
  return spike ? [{ x: layout.x(0) - 1, width: 5, height: height(zeros), spike: true }, ...bars] : bars;
}

/** How many of some values fall into each band, and how many of those are zero. */
export function countsByBand(
  bands: readonly Band[],
  values: readonly number[],
): readonly { readonly all: number; readonly zeros: number }[] {
  const counts = bands.map(() => ({ all: 0, zeros: 0 }));
  for (const v of values) {
    const count = counts[findBand(v, bands)];
    if (!count) continue;
    count.all++;
    if (v === 0) count.zeros++;
  }
  return counts;
}
