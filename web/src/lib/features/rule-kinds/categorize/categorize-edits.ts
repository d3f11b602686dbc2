/** Edits of a categorize outcome, as JSON Patch operations on the rule. */
import { readCategorize, type Band, type Categorize } from '@rigid-rule/core/compile';
import { pointer, type Operation, type RecordType } from '@rigid-rule/core/document';
import { fieldTypeOf } from '@rigid-rule/core/language';
import { dateOfDay, dateText } from '@rigid-rule/core/values';
import type { RulerStop } from '../parts/ruler-layout.ts';

const at = (...tokens: (string | number)[]): string => pointer('outcome', ...tokens);
const set = (path: string, value: unknown): Operation => ({ op: 'add', path, value });

/** Boundaries that are dates are kept as ISO 8601 text, and read as day numbers. */
type Boundary = number | string;
export const keptBoundary = (n: number, dates: boolean): Boundary => (dates ? dateText(dateOfDay(n)) : n);
const kept = (band: Band, dates: boolean): object => ({
  ...band,
  ...(band.from === undefined ? {} : { from: keptBoundary(band.from, dates) }),
  ...(band.to === undefined ? {} : { to: keptBoundary(band.to, dates) }),
});

/** Moves a boundary; one that two bands share moves for both. */
export function moveStop(stop: RulerStop, value: Boundary): Operation[] {
  return [
    ...(stop.ends === undefined ? [] : [set(at('bands', stop.ends, 'to'), value)]),
    ...(stop.begins === undefined ? [] : [set(at('bands', stop.begins, 'from'), value)]),
  ];
}

/** Hands the boundary itself to the band on the other side. */
export function flipStop(stop: RulerStop): Operation[] {
  return [
    ...(stop.ends === undefined ? [] : [set(at('bands', stop.ends, 'toClosed'), stop.upper)]),
    ...(stop.begins === undefined ? [] : [set(at('bands', stop.begins, 'fromOpen'), stop.upper)]),
  ];
}

export const setResult = (band: number, result: string | number): Operation[] => [
  set(at('bands', band, 'result'), result),
];
/** Gives a band a limit, or takes it away: the lowest and the highest band may be open or closed. */
export function setLimit(
  { bands }: Categorize,
  i: number,
  side: 'from' | 'to',
  value: Boundary | undefined,
): Operation[] {
  const path = at('bands', i, side);
  if (value !== undefined) return [set(path, value)];
  const closing = side === 'from' ? 'fromOpen' : 'toClosed';
  return [
    { op: 'remove', path },
    ...(bands[i]?.[closing] === undefined ? [] : [{ op: 'remove', path: at('bands', i, closing) } as const]),
  ];
}

/** A limit to begin with, beyond the other end of the band. */
export function usualLimit(band: Band, side: 'from' | 'to'): number {
  if (side === 'from') return band.to !== undefined && band.to <= 0 ? band.to - 10 : 0;
  return band.from === undefined ? 100 : band.from + Math.max(10, Math.abs(band.from));
}

/** Another field is written: bands keep their numbers and take its options in order. */
export function retarget(outcome: unknown, { fields }: RecordType, key: string): Operation[] {
  const { bands, groups } = readCategorize(outcome);
  const options = fields.find((f) => f.key === key)?.options?.map((o) => o.key);
  const result = (i: number, now: string | number): string | number =>
    options ? (options[Math.min(i, options.length - 1)] ?? now) : now;
  return [
    set(at('target'), key),
    ...bands.map((b, i) => set(at('bands', i, 'result'), result(i, b.result))),
    ...groups.map((g, i) => set(at('groups', i, 'result'), result(i, g.result))),
  ];
}

/** Another field decides: bands of numbers or of dates, or groups of texts, begun anew where the kind of value changes. */
export function resource(outcome: unknown, { fields }: RecordType, key: string): Operation[] {
  const { bands, groups, dates, target } = readCategorize(outcome);
  const source = fields.find((f) => f.key === key);
  const kind = source ? fieldTypeOf(source).typeOf(source).kind : 'number';
  const results = fields.find((f) => f.key === target)?.options?.map((o) => o.key) ?? [''];
  const operations = [set(at('source'), source?.name ?? '')];
  if (kind === 'text' || kind === 'option') {
    const begun = results.map((result) => ({ values: [], result }));
    return [...operations, set(at('bands'), []), ...(groups.length > 0 ? [] : [set(at('groups'), begun)])];
  }
  const beginsAnew = bands.length === 0 || dates !== (kind === 'date');
  const boundary = (i: number): number | string => (kind === 'date' ? `20${String(20 + i * 5)}-01-01` : i * 10);
  const begun = results.map((result, i) => ({
    ...(i === 0 ? {} : { from: boundary(i) }),
    ...(i === results.length - 1 ? {} : { to: boundary(i + 1) }),
    result,
  }));
  return [...operations, set(at('groups'), []), ...(beginsAnew ? [set(at('bands'), begun)] : [])];
}

/** Splits a band: the upper part becomes a band of its own, giving the same result until it is changed. */
export function splitBand({ bands, dates }: Categorize, index: number, boundary: number): Operation[] {
  const band = bands[index]!;
  const { to, toClosed, ...rest } = band;
  const lower: Band = { ...rest, to: boundary };
  const upper: Band = {
    from: boundary,
    ...(to === undefined ? {} : { to }),
    ...(toClosed ? { toClosed } : {}),
    result: band.result,
  };
  return [
    { op: 'replace', path: at('bands', index), value: kept(lower, dates) },
    { op: 'add', path: at('bands', index + 1), value: kept(upper, dates) },
  ];
}

/** Takes a band away; its neighbour below, or else the one above, takes its numbers. */
export function removeBand({ bands, dates }: Categorize, index: number): Operation[] {
  const gone = bands[index]!;
  const lower = bands[index - 1];
  const upper = bands[index + 1];
  const removal: Operation = { op: 'remove', path: at('bands', index) };
  if (lower) {
    const { to: _, toClosed: __, ...rest } = lower;
    const wider: Band = {
      ...rest,
      ...(gone.to === undefined ? {} : { to: gone.to }),
      ...(gone.toClosed ? { toClosed: true } : {}),
    };
    return [removal, { op: 'replace', path: at('bands', index - 1), value: kept(wider, dates) }];
  }
  if (!upper) return [removal];
  const { from: _, fromOpen: __, ...rest } = upper;
  const wider: Band = {
    ...rest,
    ...(gone.from === undefined ? {} : { from: gone.from }),
    ...(gone.fromOpen ? { fromOpen: true } : {}),
  };
  return [{ op: 'replace', path: at('bands', index + 1), value: kept(wider, dates) }, removal];
}

/** A boundary in the middle of a band, as round as it can be. */
export function middleOf(band: Band, finest: number): number {
  const from = band.from ?? (band.to ?? 0) - 100;
  const to = band.to ?? Math.max(from * 2, from + 10 * finest);
  return Math.round((from + to) / 2 / finest) * finest;
}
