/** Sets of values that one field may have, as far as conditions can tell: ranges of numbers and dates, or options and texts. */
import { toDecimal } from '../values/number.ts';

export interface Span {
  readonly low: number;
  readonly lowOpen: boolean;
  readonly high: number;
  readonly highOpen: boolean;
}

export interface Region {
  readonly blank: boolean;
  /** Values that are numbers (dates as day numbers); undefined: not about numbers. */
  readonly spans?: readonly Span[];
  /** Values that are names: just these, or all but these. */
  readonly names?: { readonly only: boolean; readonly list: ReadonlySet<string> };
}

export const everySpan: Span = { low: -Infinity, lowOpen: true, high: Infinity, highOpen: true };

const isEmptySpan = (s: Span): boolean => s.low > s.high || (s.low === s.high && (s.lowOpen || s.highOpen));

function meetSpans(a: Span, b: Span): Span {
  const low = Math.max(a.low, b.low);
  const high = Math.min(a.high, b.high);
  return {
    low,
    lowOpen: (a.low === low && a.lowOpen) || (b.low === low && b.lowOpen),
    high,
    highOpen: (a.high === high && a.highOpen) || (b.high === high && b.highOpen),
  };
}

/** The spans as far as values in steps lie in them: from the first such value to the last. Without a step as they are. */
export function onSteps(spans: readonly Span[], step: number | undefined): readonly Span[] {
  if (step === undefined) return spans;
  return spans
    .map(({ low, lowOpen, high, highOpen }): Span => {
      const [first, last] = [stepNear(low, step, 'above', lowOpen), stepNear(high, step, 'below', highOpen)];
      return { low: first, lowOpen: first === -Infinity, high: last, highOpen: last === Infinity };
    })
    .filter((s) => !isEmptySpan(s));
}

/** The value in steps that is next to a number, itself where it is one and is not to be left out. */
function stepNear(n: number, step: number, side: 'above' | 'below', without: boolean): number {
  if (!Number.isFinite(n)) return n;
  const steps = toDecimal(n).div(step);
  const near = side === 'above' ? steps.ceil() : steps.floor();
  const moved = without && near.equals(steps) ? near.plus(side === 'above' ? 1 : -1) : near;
  return moved.times(step).toNumber();
}

type Names = NonNullable<Region['names']>;

function meetNames(a: Names, b: Names): Names {
  if (a.only && b.only) return { only: true, list: new Set([...a.list].filter((n) => b.list.has(n))) };
  if (a.only) return { only: true, list: new Set([...a.list].filter((n) => !b.list.has(n))) };
  if (b.only) return meetNames(b, a);
  return { only: false, list: new Set([...a.list, ...b.list]) };
}

export function meetRegions(a: Region, b: Region): Region {
  const blank = a.blank && b.blank;
  if (a.spans && b.spans) {
    const spans = a.spans.flatMap((x) => b.spans!.map((y) => meetSpans(x, y))).filter((s) => !isEmptySpan(s));
    return { blank, spans };
  }
  if (a.names && b.names) return { blank, names: meetNames(a.names, b.names) };
  // One of them says nothing about values that are not blank.
  const said = a.spans || a.names ? a : b;
  return { ...said, blank };
}

/** No value and not blank either. A region that says nothing of values holds them all. */
export function isEmptyRegion({ blank, spans, names }: Region): boolean {
  if (blank) return false;
  if (spans) return spans.length === 0;
  return names !== undefined && names.only && names.list.size === 0;
}

export const onlyBlank: Region = { blank: true, spans: [], names: { only: true, list: new Set() } };
