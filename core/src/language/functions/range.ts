/** Relations of points and ranges (DMN 10.3.4.8, after Allen's interval algebra), and ranges from texts. */
import { anyType, booleanType, rangeType } from '../types/types.ts';
import { parseNumber } from '../../values/number.ts';
import { FeelRange, orderValues, type Value } from '../../values/value.ts';
import { parseTemporal } from '../types/temporal-literal.ts';
import type { LanguageFunction } from './function.ts';

type Ends = {
  readonly low: Value;
  readonly high: Value;
  readonly lowIncluded: boolean;
  readonly highIncluded: boolean;
};
/** A point is the range that holds just it. */
const ends = (v: Value): Ends =>
  v instanceof FeelRange ? v : { low: v, high: v, lowIncluded: true, highIncluded: true };

/** Raised where two ends do not compare; the relation is then null. */
class Incomparable extends Error {}
function order(a: Value, b: Value): number {
  const o = orderValues(a, b);
  if (o === null) throw new Incomparable();
  return o;
}

type Relation = (a: Ends, b: Ends) => boolean;
const before: Relation = (a, b) =>
  order(a.high, b.low) < 0 || (order(a.high, b.low) === 0 && !(a.highIncluded && b.lowIncluded));
const meets: Relation = (a, b) => a.highIncluded && b.lowIncluded && order(a.high, b.low) === 0;
const startsBefore: Relation = (a, b) =>
  order(a.low, b.low) < 0 || (order(a.low, b.low) === 0 && a.lowIncluded && !b.lowIncluded);
const endsBefore: Relation = (a, b) =>
  order(a.high, b.high) < 0 || (order(a.high, b.high) === 0 && !a.highIncluded && b.highIncluded);
const reaches: Relation = (a, b) =>
  order(a.high, b.low) > 0 || (order(a.high, b.low) === 0 && a.highIncluded && b.lowIncluded);
const sameStart: Relation = (a, b) => order(a.low, b.low) === 0 && a.lowIncluded === b.lowIncluded;
const sameEnd: Relation = (a, b) => order(a.high, b.high) === 0 && a.highIncluded === b.highIncluded;
const overlaps: Relation = (a, b) => reaches(a, b) && reaches(b, a);
const overlapsBefore: Relation = (a, b) => startsBefore(a, b) && reaches(a, b) && !endsBefore(b, a);
const includes: Relation = (a, b) => !startsBefore(b, a) && !endsBefore(a, b);
const starts: Relation = (a, b) => sameStart(a, b) && !endsBefore(b, a);
const finishes: Relation = (a, b) => sameEnd(a, b) && !startsBefore(a, b);
const turned =
  (r: Relation): Relation =>
  (a, b) =>
    r(b, a);

function relation(
  name: string,
  holds: Relation,
  help: string,
  examples: LanguageFunction['examples'],
): LanguageFunction {
  return {
    name,
    parameters: [
      { name: 'point1', type: anyType },
      { name: 'point2', type: anyType },
    ],
    alternatives: [
      [
        { name: 'range1', type: anyType },
        { name: 'range2', type: anyType },
      ],
      [
        { name: 'point', type: anyType },
        { name: 'range', type: anyType },
      ],
      [
        { name: 'range', type: anyType },
        { name: 'point', type: anyType },
      ],
    ],
    result: booleanType,
    help,
    examples,
    evaluate([a = null, b = null]) {
      try {
        return a === null || b === null ? null : holds(ends(a), ends(b));
      } catch (e) {
        if (e instanceof Incomparable) return null;
        throw e;
      }
    },
  };
}

function parseRange(text: string): FeelRange | null {
  const m = /^([[\](])\s*(.*?)\s*\.\.\s*(.*?)\s*([)\][])$/s.exec(text.trim());
  if (!m) return null;
  const end = (t: string): Value | undefined => {
    if (t === '') return null;
    const quoted = /^@?"(.*)"$/s.exec(t) ?? /^(?:date|time|date and time|duration)\("(.*)"\)$/s.exec(t);
    if (quoted) return t.startsWith('"') ? quoted[1]! : (parseTemporal(quoted[1]!) ?? undefined);
    return parseNumber(t) ?? undefined;
  };
  const [low, high] = [end(m[2]!), end(m[3]!)];
  if (low === undefined || high === undefined || (low === null && high === null)) return null;
  if (low !== null && high !== null && (orderValues(low, high) ?? 1) > 0) return null;
  return new FeelRange(low, high, m[1] === '[', m[4] === ']');
}

export const rangeFunctions: readonly LanguageFunction[] = [
  relation('before', before, 'Whether the first ends before the second begins.', [
    ['before(1, 10)', true],
    ['before([1..10), 10)', true],
    ['before([1..10], 10)', false],
  ]),
  relation('after', turned(before), 'Whether the first begins after the second ends.', [
    ['after(12, [1..10])', true],
    ['after([5..10], 5)', false],
  ]),
  relation('meets', meets, 'Whether the first ends where the second begins.', [
    ['meets([1..5], [5..10])', true],
    ['meets([1..5), [5..10])', false],
  ]),
  relation('met by', turned(meets), 'Whether the first begins where the second ends.', [
    ['met by([5..10], [1..5])', true],
  ]),
  relation('overlaps', overlaps, 'Whether the two have something in common.', [
    ['overlaps([1..5], [3..8])', true],
    ['overlaps([1..5), [5..8])', false],
  ]),
  relation('overlaps before', overlapsBefore, 'Whether the first begins earlier and ends within the second.', [
    ['overlaps before([1..5], [3..8])', true],
    ['overlaps before([3..8], [1..5])', false],
  ]),
  relation('overlaps after', turned(overlapsBefore), 'Whether the second begins earlier and ends within the first.', [
    ['overlaps after([3..8], [1..5])', true],
  ]),
  relation('finishes', finishes, 'Whether the first ends where the second ends, and begins no earlier.', [
    ['finishes(10, [1..10])', true],
    ['finishes([5..10], [1..10])', true],
    ['finishes([5..10), [1..10])', false],
  ]),
  relation('finished by', turned(finishes), 'Whether the second ends where the first ends, and begins no earlier.', [
    ['finished by([1..10], 10)', true],
  ]),
  relation('includes', includes, 'Whether the second lies in the first.', [
    ['includes([1..10], 5)', true],
    ['includes([1..10), 10)', false],
    ['includes([1..10], [4..6])', true],
  ]),
  relation('during', turned(includes), 'Whether the first lies in the second.', [
    ['during(5, [1..10])', true],
    ['during([4..6], [1..10))', true],
  ]),
  relation('starts', starts, 'Whether the first begins where the second begins, and ends no later.', [
    ['starts(1, [1..10])', true],
    ['starts([1..5], [1..10])', true],
  ]),
  relation('started by', turned(starts), 'Whether the second begins where the first begins, and ends no later.', [
    ['started by([1..10], 1)', true],
  ]),
  relation('coincides', (a, b) => sameStart(a, b) && sameEnd(a, b), 'Whether the two are the same.', [
    ['coincides(5, 5)', true],
    ['coincides([1..5], [1..6])', false],
  ]),
  {
    name: 'range',
    parameters: [{ name: 'from', type: { kind: 'text' } }],
    result: rangeType,
    help: 'A range from a text.',
    examples: [
      ['5 in range("[1..10)")', true],
      ['range("[10..1]")', null],
    ],
    evaluate: ([v]) => (typeof v === 'string' ? parseRange(v) : null),
  },
];
