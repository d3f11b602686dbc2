/** Edits of a categorize outcome, as JSON Patch operations on the rule. */
import { pointer, type Band, type Categorize, type Operation, type Otherwise } from '@rigid-rule/core';
import type { RulerStop } from '../ruler/layout.ts';

const at = (...tokens: (string | number)[]): string => pointer('outcome', ...tokens);
const set = (path: string, value: unknown): Operation => ({ op: 'add', path, value });

/** Moves a boundary; one that two bands share moves for both. */
export function moveStop(stop: RulerStop, value: number): Operation[] {
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
export const setFirstFrom = (value: number): Operation[] => [set(at('bands', 0, 'from'), value)];
export const setOtherwise = (which: 'blank' | 'outside', value: Otherwise): Operation[] => [set(at(which), value)];
export const setSource = (source: string): Operation[] => [set(at('source'), source)];

/** Splits a band: the upper part becomes a band of its own, giving the same result until it is changed. */
export function splitBand({ bands }: Categorize, index: number, boundary: number): Operation[] {
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
    { op: 'replace', path: at('bands', index), value: lower },
    { op: 'add', path: at('bands', index + 1), value: upper },
  ];
}

/** Takes a band away; its neighbour below, or else the one above, takes its numbers. */
export function removeBand({ bands }: Categorize, index: number): Operation[] {
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
    return [removal, { op: 'replace', path: at('bands', index - 1), value: wider }];
  }
  if (!upper) return [removal];
  const { from: _, fromOpen: __, ...rest } = upper;
  const wider: Band = {
    ...rest,
    ...(gone.from === undefined ? {} : { from: gone.from }),
    ...(gone.fromOpen ? { fromOpen: true } : {}),
  };
  return [{ op: 'replace', path: at('bands', index + 1), value: wider }, removal];
}

/** A boundary in the middle of a band, as round as it can be. */
export function middleOf(band: Band, finest: number): number {
  const from = band.from ?? (band.to ?? 0) - 100;
  const to = band.to ?? Math.max(from * 2, from + 10 * finest);
  return Math.round((from + to) / 2 / finest) * finest;
}
