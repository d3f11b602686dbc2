/** What a release does to records, in figures; those of several heaps are put together. */
import { sumOfSpreads, type Spread } from './spread.ts';
import type { FieldType } from '../language/field-types/field-type.ts';

export const impactWays = ['next save', 'as new', 'backfill'] as const;
/** `next save`: stored, saved with nothing sent. `as new`: the same values in a new record. `backfill`: all standing rules named. */
export type ImpactWay = (typeof impactWays)[number];

export interface Move {
  /** Neutral texts of values; `blank` where there is none. */
  readonly from: string;
  readonly to: string;
  readonly records: number;
}

export interface FieldMoves {
  /** Key of the field. */
  readonly key: string;
  /** Its name. */
  readonly field: string;
  /** How its values, neutral in `moves` and `stays`, are shown. */
  readonly written?: FieldType['written'];
  readonly records: number;
  /** The most first. */
  readonly moves: readonly Move[];
  /** Of a field with options or yes and no: records whose value stays, by value. */
  readonly stays?: readonly { readonly value: string; readonly records: number }[];
  /** Of a number: how its values were spread and are, over equal steps. */
  readonly spread?: Spread;
}

export interface Counted {
  readonly text: string;
  readonly records: number;
}

export interface ImpactFigures {
  readonly way: ImpactWay;
  readonly tried: number;
  /** Saved under both, with another value somewhere. */
  readonly changed: number;
  /** Values that are there before and blank after. */
  readonly newlyBlank: number;
  /** Saved before and not after, and the other way round. */
  readonly newlyStopped: number;
  readonly noLongerStopped: number;
  /** Does not settle, or fails, only after. */
  readonly failing: number;
  readonly fields: readonly FieldMoves[];
  /** What is said to those newly stopped. */
  readonly messages: readonly Counted[];
  /** What is newly so on the form: `Credit limit now required`. */
  readonly onForm: readonly Counted[];
  /** Notices that would go out more or fewer, by the name of their rule; fewer are negative. */
  readonly notices: readonly Counted[];
  /** Records that a rule writes otherwise, by its name. */
  readonly writers: readonly Counted[];
}

/** Only the fields that change. */
export const moving = (figures: ImpactFigures): ImpactFigures => ({
  ...figures,
  fields: figures.fields.filter((f) => f.records > 0),
});

export const bump = (counts: Map<string, number>, key: string, by = 1): void => {
  counts.set(key, (counts.get(key) ?? 0) + by);
};

export const sorted = (counts: ReadonlyMap<string, number>): readonly Counted[] =>
  [...counts].map(([t, records]) => ({ text: t, records })).sort((a, b) => b.records - a.records);

/** Figures of the same records in several heaps, put together. */
export function sumOfFigures(heaps: readonly ImpactFigures[]): ImpactFigures {
  const [first] = heaps;
  if (!first || heaps.length === 1) return first ?? emptyFigures;
  const sum = (of: (f: ImpactFigures) => number): number => heaps.reduce((n, f) => n + of(f), 0);
  const counts = (of: (f: ImpactFigures) => readonly Counted[]): readonly Counted[] => {
    const found = new Map<string, number>();
    for (const f of heaps) for (const c of of(f)) bump(found, c.text, c.records);
    return sorted(found).filter((c) => c.records !== 0);
  };
  const fields = new Map<string, FieldMoves[]>();
  for (const f of heaps.flatMap((h) => h.fields)) fields.set(f.key, [...(fields.get(f.key) ?? []), f]);
  return {
    way: first.way,
    tried: sum((f) => f.tried),
    changed: sum((f) => f.changed),
    newlyBlank: sum((f) => f.newlyBlank),
    newlyStopped: sum((f) => f.newlyStopped),
    noLongerStopped: sum((f) => f.noLongerStopped),
    failing: sum((f) => f.failing),
    fields: [...fields.values()].map(sumOfMoves).sort((a, b) => b.records - a.records),
    messages: counts((f) => f.messages),
    onForm: counts((f) => f.onForm),
    notices: counts((f) => f.notices),
    writers: counts((f) => f.writers),
  };
}

const emptyFigures: ImpactFigures = {
  way: 'next save',
  tried: 0,
  changed: 0,
  newlyBlank: 0,
  newlyStopped: 0,
  noLongerStopped: 0,
  failing: 0,
  fields: [],
  messages: [],
  onForm: [],
  notices: [],
  writers: [],
};

function sumOfMoves(list: readonly FieldMoves[]): FieldMoves {
  const [first] = list as readonly [FieldMoves, ...FieldMoves[]];
  const moves = new Map<string, { from: string; to: string; records: number }>();
  const stays = new Map<string, number>();
  for (const f of list) {
    for (const m of f.moves) {
      const key = `${m.from}\0${m.to}`;
      const known = moves.get(key) ?? { from: m.from, to: m.to, records: 0 };
      moves.set(key, { ...known, records: known.records + m.records });
    }
    for (const s of f.stays ?? []) bump(stays, s.value, s.records);
  }
  const spreads = list.flatMap((f) => f.spread ?? []);
  return {
    key: first.key,
    field: first.field,
    ...(first.written ? { written: first.written } : {}),
    records: list.reduce((n, f) => n + f.records, 0),
    moves: [...moves.values()].sort((a, b) => b.records - a.records),
    ...(stays.size > 0 ? { stays: [...stays].map(([value, records]) => ({ value, records })) } : {}),
    ...(spreads.length > 0 ? { spread: sumOfSpreads(spreads) } : {}),
  };
}
