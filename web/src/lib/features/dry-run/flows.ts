/** The picture of a field before and after: bars of values, what moves between them to scale, what stays cut short. */
import type { FieldMoves } from '@rigid-rule/core/rule-tests';

export interface FlowBar {
  readonly value: string;
  readonly count: number;
  readonly y: number;
  readonly height: number;
}

export interface Flow {
  readonly from: string;
  readonly to: string;
  readonly records: number;
  /** Places along the two bars, top and height at either side. */
  readonly y0: number;
  readonly h0: number;
  readonly y1: number;
  readonly h1: number;
  readonly stays: boolean;
}

export interface FlowPicture {
  readonly before: readonly FlowBar[];
  readonly after: readonly FlowBar[];
  readonly flows: readonly Flow[];
  readonly height: number;
  /** Something that stays is drawn shorter than it is. */
  readonly cut: boolean;
}

const gap = 20;
/** The least height of a bar, and of what stays once it is cut. */
const [least, stub] = [18, 36];
/** What moves is at least this high, and all of it together at most so high. */
const [thin, tall] = [3, 150];
/** All that moves together is about this high. */
const whole = 300;
/** Values that have a bar of their own; the rest stand together. */
const mostBars = 8;

/** `order`: the values in the order of the field's options; others follow by count. */
export function flowPicture(field: FieldMoves, order: readonly string[]): FlowPicture {
  const { moves, stays } = merged(field);
  const values = [...new Set([...moves.flatMap((m) => [m.from, m.to]), ...stays.map((s) => s.value)])];
  const rank = (v: string): number => (v === 'blank' ? -1 : order.includes(v) ? order.indexOf(v) : order.length);
  values.sort((a, b) => rank(a) - rank(b));
  const moving = Math.max(1, ...values.map((v) => Math.max(sum(moves, 'from', v), sum(moves, 'to', v))));
  const scale = Math.min(6, tall / moving, whole / Math.max(1, field.records));
  const moveHeight = (n: number): number => Math.max(thin, n * scale);
  const stayHeight = (n: number): number => (n === 0 ? 0 : Math.min(stub, Math.max(thin, n * scale)));
  const cut = stays.some((s) => s.records * scale > stub);
  const layout = (side: 'from' | 'to'): { bars: FlowBar[]; height: number } => {
    let y = 0;
    const bars = values.map((value): FlowBar => {
      const kept = stays.find((s) => s.value === value)?.records ?? 0;
      const own = moves.filter((m) => m[side] === value);
      const height = Math.max(least, stayHeight(kept) + own.reduce((h, m) => h + moveHeight(m.records), 0));
      const bar = { value, count: kept + sum(moves, side, value), y, height };
      y += height + gap;
      return bar;
    });
    return { bars, height: y - gap };
  };
  const [before, after] = [layout('from'), layout('to')];
  const used = { from: new Map<string, number>(), to: new Map<string, number>() };
  const place = (side: 'from' | 'to', value: string, height: number): number => {
    const bar = (side === 'from' ? before : after).bars.find((b) => b.value === value)!;
    const at = used[side].get(value) ?? 0;
    used[side].set(value, at + height);
    return bar.y + at;
  };
  const flows: Flow[] = [];
  // On each bar what comes from above, what stays, what goes below: few lines cross.
  const all = [
    ...moves.map((m) => ({ ...m, stays: false })),
    ...stays.map((s) => ({ from: s.value, to: s.value, records: s.records, stays: true })),
  ].filter((m) => m.records > 0);
  const byOther = (a: (typeof all)[number], b: (typeof all)[number]): number =>
    values.indexOf(a.from) - values.indexOf(b.from) || values.indexOf(a.to) - values.indexOf(b.to);
  const starts = new Map<(typeof all)[number], number>();
  for (const m of [...all].sort(byOther))
    starts.set(m, place('from', m.from, m.stays ? stayHeight(m.records) : moveHeight(m.records)));
  const byTo = (a: (typeof all)[number], b: (typeof all)[number]): number =>
    values.indexOf(a.to) - values.indexOf(b.to) || values.indexOf(a.from) - values.indexOf(b.from);
  for (const m of [...all].sort(byTo)) {
    const height = m.stays ? stayHeight(m.records) : moveHeight(m.records);
    flows.push({ ...m, y0: starts.get(m)!, h0: height, y1: place('to', m.to, height), h1: height });
  }
  return { before: before.bars, after: after.bars, flows, height: Math.max(before.height, after.height), cut };
}

type Moves = readonly { readonly from: string; readonly to: string; readonly records: number }[];

const sum = (moves: Moves, side: 'from' | 'to', value: string): number =>
  moves.reduce((n, m) => n + (m[side] === value ? m.records : 0), 0);

/** Stands for values that share a bar. No value is written so. */
export const otherValues = '';

/** Where there are too many values those of few records stand together. */
function merged(field: FieldMoves): { moves: Moves; stays: readonly { value: string; records: number }[] } {
  const counts = new Map<string, number>();
  const bump = (v: string, n: number) => counts.set(v, (counts.get(v) ?? 0) + n);
  for (const m of field.moves) {
    bump(m.from, m.records);
    bump(m.to, m.records);
  }
  const shown = new Set(
    [...counts]
      .sort((a, b) => b[1] - a[1])
      .slice(0, mostBars)
      .map(([v]) => v),
  );
  const known =
    field.stays && field.stays.length <= mostBars ? new Set(field.stays.map((s) => s.value)) : new Set<string>();
  if (counts.size > mostBars) known.clear();
  const name = (v: string): string => (shown.has(v) || known.has(v) ? v : otherValues);
  const moves = new Map<string, { from: string; to: string; records: number }>();
  for (const m of field.moves) {
    const [from, to] = [name(m.from), name(m.to)];
    const key = `${from}\0${to}`;
    const before = moves.get(key)?.records ?? 0;
    moves.set(key, { from, to, records: before + m.records });
  }
  const stays = new Map<string, number>();
  for (const s of field.stays ?? []) {
    const v = name(s.value);
    if (v !== otherValues || counts.size > mostBars) stays.set(v, (stays.get(v) ?? 0) + s.records);
  }
  return { moves: [...moves.values()], stays: [...stays].map(([value, records]) => ({ value, records })) };
}

/** Places of lines of text, each near where it was wanted, none upon another. `wanted` and the answer: from the top. */
export function apartBy(least: number, wanted: readonly number[]): readonly number[] {
  const order = wanted.map((_, i) => i).sort((a, b) => wanted[a]! - wanted[b]! || a - b);
  const placed = [...wanted];
  for (const [nth, i] of order.entries())
    if (nth > 0) placed[i] = Math.max(placed[i]!, placed[order[nth - 1]!]! + least);
  return placed;
}
