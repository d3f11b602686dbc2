/**
 * A second opinion: random formulas against feelin, a FEEL interpreter from the registry. Where it is known to differ
 * the case is left out, by reason:
 * - it computes with doubles: numbers are kept to small integers, and division and powers are left out;
 * - it takes texts, numbers and blanks together in `+` and in comparisons where DMN gives null: operands are of one type;
 * - `and`, `or` over something that is no boolean: operands are booleans or blank;
 * - it turns the bounds of `between` round where the lower one is above the higher: bounds are in order;
 * - `some` and `every` over blanks: their conditions are never blank;
 * - behind `in` it takes all that `and` and `or` join: nothing is joined there.
 */
import { evaluate as feelin } from 'feelin';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { evaluateLine } from '../../command/evaluate-line.ts';
import { runsOf } from '../../testing/runs.ts';

const context = { a: 3, b: 7, 'Employee count': 12, t: 'alder', flag: true, l: [1, 5, 9], o: { x: 4 } };

interface Kinds {
  number: string;
  boolean: string;
  text: string;
  list: string;
}

const formulas = fc.letrec<Kinds>((tie) => ({
  number: fc.oneof(
    { maxDepth: 4 },
    fc.integer({ min: 0, max: 40 }).map(String),
    fc.constantFrom('a', 'b', 'Employee count', 'o.x'),
    fc.tuple(tie('number'), fc.constantFrom('+', '-', '*'), tie('number')).map(([x, op, y]) => `(${x} ${op} ${y})`),
    fc.tuple(tie('boolean'), tie('number'), tie('number')).map(([c, x, y]) => `(if ${c} then ${x} else ${y})`),
    fc.tuple(fc.constantFrom('sum', 'min', 'max', 'count'), tie('list')).map(([f, l]) => `${f}(append(${l}, 2))`),
    tie('text').map((t) => `string length(${t})`),
    tie('number').map((n) => `abs(${n})`),
  ),
  boolean: fc.oneof(
    { maxDepth: 4 },
    fc.constantFrom('true', 'false', 'flag'),
    fc
      .tuple(tie('number'), fc.constantFrom('<', '<=', '>', '>=', '=', '!='), tie('number'))
      .map(([x, op, y]) => `(${x} ${op} ${y})`),
    fc.tuple(tie('boolean'), fc.constantFrom('and', 'or'), tie('boolean')).map(([x, op, y]) => `(${x} ${op} ${y})`),
    tie('boolean').map((x) => `not(${x})`),
    fc
      .tuple(tie('number'), fc.integer({ min: 0, max: 9 }), fc.integer({ min: 9, max: 30 }))
      .map(([x, y, z]) => `(${x} between ${y} and ${z})`),
    fc
      .tuple(
        tie('number'),
        fc.integer({ min: 0, max: 9 }),
        fc.integer({ min: 10, max: 30 }),
        fc.constantFrom('[', '('),
        fc.constantFrom(']', ')'),
      )
      .map(([x, lo, hi, open, close]) => `(${x} in ${open}${lo}..${hi}${close})`),
    fc
      .tuple(fc.constantFrom('some', 'every'), tie('list'), fc.constantFrom('<', '>'), fc.integer({ min: 0, max: 9 }))
      .map(([q, l, op, n]) => `(${q} v in ${l} satisfies v ${op} ${n})`),
    fc.tuple(tie('list'), tie('number')).map(([l, n]) => `list contains(${l}, ${n})`),
    fc.tuple(tie('text'), tie('text')).map(([x, y]) => `contains(${x}, ${y})`),
  ),
  text: fc.oneof(
    { maxDepth: 3 },
    fc.constantFrom('"a"', '"der"', 't', '""'),
    fc.tuple(tie('text'), tie('text')).map(([x, y]) => `(${x} + ${y})`),
    tie('text').map((t) => `upper case(${t})`),
  ),
  list: fc.oneof(
    { maxDepth: 3 },
    fc.constant('l'),
    fc.array(tie('number'), { minLength: 1, maxLength: 3 }).map((items) => `[${items.join(', ')}]`),
    fc.tuple(tie('list'), fc.integer({ min: 0, max: 9 })).map(([l, n]) => `${l}[item > ${n}]`),
    fc.tuple(tie('list'), fc.integer({ min: 1, max: 4 })).map(([l, n]) => `(for v in ${l} return v * ${n})`),
    tie('list').map((l) => `reverse(${l})`),
    fc.tuple(tie('list'), tie('list')).map(([x, y]) => `concatenate(${x}, ${y})`),
  ),
}));

/** Operators in a row, without a bracket to say which binds more. */
const chains = fc
  .array(
    fc.tuple(
      fc.constantFrom(' and ', ' or '),
      fc.array(fc.tuple(fc.constantFrom(' + ', ' - ', ' * ', ' - -'), fc.constantFrom('1', '2', 'a', 'b', 'o.x', 'l[2]', 'abs(b)', '-a')), { minLength: 1, maxLength: 4 }), // prettier-ignore
      fc.constantFrom(' < 9', ' >= 4', ' = 6', ' != 2', ' between 0 and 12', ' in [1..9]', ' > a * 2 - 1'),
    ),
    { minLength: 1, maxLength: 4 },
  )
  .map((list) =>
    list
      .map(([join, terms, end], i) => {
        const sum = terms
          .map(([op, t], n) => (n === 0 ? t : op + t.replace(/^-/, op.endsWith('-') ? '' : '-')))
          .join('');
        return (i === 0 ? '' : join) + sum + (end.startsWith(' in') && i < list.length - 1 ? ' < 3' : end);
      })
      .join(''),
  );

describe('two interpreters agree on random formulas', () => {
  it.each([...(['number', 'boolean', 'text', 'list'] as const), 'boolean without brackets'] as const)(
    'that give a %s',
    (kind) => {
      fc.assert(
        fc.property(kind === 'boolean without brackets' ? chains : formulas[kind], (expression) => {
          const ours = JSON.parse(evaluateLine(JSON.stringify({ expression, context }), {})) as {
            value?: unknown;
            error?: string;
          };
          expect(ours.error, expression).toBeUndefined();
          const theirs = feelin(expression, context).value as unknown;
          // Beyond 15 digits one prints a text, the other has lost digits.
          fc.pre(!/\d{16}/.test(JSON.stringify([ours, theirs])));
          // As JSON: a double's minus zero is the number 0.
          expect(JSON.stringify(ours.value), expression).toBe(JSON.stringify(theirs));
        }),
        { numRuns: runsOf(400) },
      );
    },
  );
});
