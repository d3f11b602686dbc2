import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { functions } from '../functions/index.ts';
import { phoneNumber } from '../../host/phone-numbers.ts';
import { createPatterns } from '../../host/patterns.ts';
import type { Field } from '../../document/document.ts';
import { equalValues, valueToText, type Value } from '../../values/value.ts';
import { createCondition, createFormula } from './formula.ts';
import { createScope } from './scope.ts';
import { quoteText, unescapeText } from '../types/text-literal.ts';
import { runsOf } from '../../testing/runs.ts';

const fields: readonly Field[] = [
  { key: 'count', name: 'Employee count', type: 'number' },
  { key: 'name', name: 'Name', type: 'text' },
  {
    key: 'stage',
    name: 'Stage',
    type: 'picklist',
    ordered: true,
    options: [
      { key: 'enquiry', name: 'Enquiry' },
      { key: 'won', name: 'Won' },
      { key: 'withdrawn', name: 'Withdrawn', outside: true },
    ],
  },
  { key: 'kind', name: 'Kind', type: 'picklist', options: [{ key: 'o', name: 'Orchard' }] },
  { key: 'stop', name: 'Credit stop', type: 'yes/no' },
];
const scope = createScope({ key: 't', name: 'T', plural: 'Ts', title: [], forms: [], fields });
const blank = fields.map(() => null);

function evaluate(text: string, record: readonly Value[] = blank, previous: readonly Value[] = blank): Value {
  const formula = createFormula(text, scope);
  if (!formula.evaluate) throw new Error(`${text}: ${formula.diagnostics.map((d) => d.message).join(' ')}`);
  return formula.evaluate({ record, previous, host });
}
const host = { now: '2026-05-03T09:00:00+01:00', pattern: createPatterns(), phone: phoneNumber };

// OMG DMN 1.3, 10.3.2.2, tables of the semantics of conjunction and disjunction. From memory.
describe('three-valued logic', () => {
  const values = ['true', 'false', 'null'] as const;
  const and = {
    'true true': true,
    'true false': false,
    'true null': null,
    'false null': false,
    'false false': false,
    'null null': null,
  };
  const or = {
    'true true': true,
    'true false': true,
    'true null': true,
    'false null': null,
    'false false': false,
    'null null': null,
  };
  const pairs = values.flatMap((a) => values.map((b) => [a, b] as const));
  it.each(pairs)('%s with %s', (a, b) => {
    const either = <T>(table: Record<string, T>): T =>
      `${a} ${b}` in table ? table[`${a} ${b}`]! : table[`${b} ${a}`]!;
    expect(evaluate(`${a} and ${b}`)).toBe(either(and));
    expect(evaluate(`${a} or ${b}`)).toBe(either(or));
  });
  it('not of unknown is unknown', () => {
    expect(['true', 'false', 'null'].map((v) => evaluate(`not(${v})`))).toEqual([false, true, null]);
  });
});

describe('formulas', () => {
  it.each<[string, Value]>([
    ['0.1 + 0.2 = 0.3', true],
    ['1E3', 1000],
    ['2 + 3 * 4', 14],
    ['-3 ** 2', 9],
    ['2 ** 3 ** 2', 64],
    ['10 - 4 - 3', 3],
    ['"a" + "b"', 'ab'],
    ['1 / 0', null],
    ['null + 1', null],
    ['null = null', true],
    ['null = 1', false],
    ['1 < null', null],
    ['5 between 1 and 5', true],
    ['5 in [1..5)', false],
    ['5 in (5..9]', false],
    ['5 in [5..9]', true],
    ['5 in (< 3, > 4)', true],
    ['5 in [1, 5]', true],
    ['"é" < "z"', false],
    ['if null then 1 else 2', 2],
    ['if 1 < 2 then "y" else "n"', 'y'],
    ['[1, 2] = [1, 2]', true],
    ['1 + /* two */ 2 // three', 3],
    ['"\\u00e9\\n"', 'é\n'],
  ])('%s', (text, expected) => {
    expect(evaluate(text)).toEqual(expected);
  });

  it('reads fields with spaces in their names, as they stand and as they were', () => {
    const record = [12, 'Alder', 'Won', null, true];
    const previous = [9, 'Alder', 'Enquiry', null, false];
    expect(evaluate('Employee count < 50 and Credit stop', record)).toBe(true);
    expect(evaluate('Employee   count', record)).toBe(12);
    expect(evaluate('previous.Employee count < Employee count', record, previous)).toBe(true);
    expect(evaluate('is blank(Kind)', record)).toBe(true);
  });

  it('compares ordered options by their order; one outside it is unknown', () => {
    const stage = (s: string): readonly Value[] => [null, null, s, null, null];
    expect(evaluate('Stage < "Won"', stage('Enquiry'))).toBe(true);
    expect(evaluate('Stage >= "Won"', stage('Enquiry'))).toBe(false);
    expect(evaluate('Stage < "Won"', stage('Withdrawn'))).toBe(null);
    expect(evaluate('Stage in ["Enquiry".."Won"]', stage('Won'))).toBe(true);
    expect(evaluate('Stage between "Enquiry" and "Won"', stage('Enquiry'))).toBe(true);
  });
});

describe('every function', () => {
  const examples = functions.flatMap((f) => f.examples.map(([text, gives]) => [text, gives] as const));
  // A record whose Stage goes from Enquiry to Won: what the examples of functions that ask for a change stand on.
  const won = fields.map((f) => (f.key === 'stage' ? 'Won' : null));
  const enquiry = fields.map((f) => (f.key === 'stage' ? 'Enquiry' : null));
  it.each(examples)('%s', (text, gives) => {
    const result = evaluate(text, won, enquiry);
    expect(equalValues(result, gives), `gives ${valueToText(result)}`).toBe(true);
  });
});

describe('mistakes are named where they are', () => {
  it.each([
    ['', 'syntax.empty', 0, 0],
    ['1 +', 'syntax.incomplete', 3, 3],
    ['1 * + 2', 'syntax.operator', 4, 5],
    ['"open', 'syntax.string', 0, 5],
    ['1 = 2 = 3', 'syntax.unexpected', 6, 7],
    ['Employe count > 1', 'name.unknown', 0, 13],
    ['Stage = "Wonn"', 'option.unknown', 8, 14],
    ['Stage in ["Enquiry", "Lost"]', 'option.unknown', 21, 27],
    ['Kind < "Orchard"', 'option.unordered', 0, 16],
    ['Name > 5', 'type.operands', 0, 8],
    ['Name - 1', 'type.operands', 0, 8],
    ['"1" + 1', 'type.operands', 0, 7],
    ['not(5)', 'type.argument', 4, 5],
    ['is blnk(5)', 'name.unknown-function', 0, 7],
    ['is blank()', 'call.count', 0, 10],
    ['Name = Name', 'compare.itself', 0, 11],
    ['constructor', 'name.unknown', 0, 11],
    ['Name.__proto__', 'type.member', 5, 14],
    ['(('.repeat(150) + '1' + '))'.repeat(150), 'syntax.too-deep', undefined, undefined],
  ])('%s', (text, code, from, to) => {
    const [first] = createFormula(text, scope).diagnostics;
    expect(first?.code).toBe(code);
    if (from !== undefined) expect(first?.range).toEqual({ from, to });
  });

  it('offers the nearest name and option', () => {
    expect(createFormula('Employe count > 1', scope).diagnostics[0]?.message).toContain('Did you mean Employee count?');
    expect(createFormula('Stage = "Wonn"', scope).diagnostics[0]?.message).toContain('Did you mean Won?');
  });

  /** As somebody does who writes each time what is said to be meant. */
  function asMeant(text: string, steps = 6): string {
    const [first] = createFormula(text, scope).diagnostics;
    const nearest = first?.data['nearest'];
    if (!first || typeof nearest !== 'string' || steps === 0) return text;
    return asMeant(text.slice(0, first.range.from) + nearest + text.slice(first.range.to), steps - 1);
  }
  it.each([
    ['Stage = “Won”', 'Stage = "Won"'],
    ['Stage = „Won“', 'Stage = "Won"'],
    ['Stage = «Won»', 'Stage = "Won"'],
    ["Stage = 'Won' or Stage = ‘Enquiry’", 'Stage = "Won" or Stage = "Enquiry"'],
    ['Employee count ≥ 5 && Employee count ≠ 7', 'Employee count >= 5 and Employee count != 7'],
    ['Employee count − 1 – 2 × 3 ÷ 4', 'Employee count - 1 - 2 * 3 / 4'],
    ['–Employee count', '-Employee count'],
    ['Employee count > 1,000', 'Employee count > 1000'],
    ['Employee count > 1,234,567.50', 'Employee count > 1234567.50'],
    ['max(1,000; 5)', 'max(1000, 5)'],
    ['Name & "x"', 'Name + "x"'],
    ['Employee count > 5 AND Credit stop', 'Employee count > 5 and Credit stop'],
    ['Credit stop OR Credit stop = TRUE', 'Credit stop or Credit stop = true'],
    ['NOT(Credit stop)', 'not(Credit stop)'],
    ['IF Credit stop THEN 1 ELSE 2', 'if Credit stop then 1 else 2'],
    ['now() > 2026-01-05', 'now() > 2026-01-05'],
    ['today() > 2026-01-05', 'today() > date("2026-01-05")'],
    ['today() = 2026-13-05', 'today() = 2026-13-05'],
    // Numbers of their own.
    ['max(100,200,300)', 'max(100,200,300)'],
    ['Employee count in (1,500)', 'Employee count in (1,500)'],
  ])('%s is written %s', (typed, meant) => expect(asMeant(typed)).toBe(meant));

  it('wants a condition to be true or false', () => {
    expect(createCondition('1 + 1', scope).diagnostics[0]?.code).toBe('type.condition');
    expect(createCondition('Employee count > 1', scope).diagnostics).toEqual([]);
  });

  it('never throws and never hangs, whatever is typed', () => {
    const word = fc.constantFrom(
      'Employee',
      ' count',
      'Stage',
      '"',
      '"Won"',
      '(',
      ')',
      '[',
      ']',
      '..',
      '+',
      '-',
      '*',
      '<',
      '=',
      'and',
      ' or ',
      'not',
      'if ',
      ' then ',
      ' else ',
      '1',
      '.',
      ',',
      '/*',
      '//',
      '\n',
      'previous',
      '{',
      '}',
      'for i in ',
      ' return ',
      'some v in ',
      ' satisfies ',
      'function(x) ',
      '{a: ',
      ' in (',
      'item',
      'sort(',
      '?',
      '\u{1f347}',
    );
    fc.assert(
      fc.property(fc.array(word, { maxLength: 25 }), (words) => {
        const formula = createFormula(words.join(''), scope);
        if (formula.evaluate) formula.evaluate({ record: [3, 'a', 'Won', 'Orchard', true], previous: blank });
        else expect(formula.diagnostics.length).toBeGreaterThan(0);
      }),
      { numRuns: runsOf(1500) },
    );
  });
});

it('text literals round-trip', () => {
  // All that there are but halves of one; the library's own takes seconds to list them.
  const codePoint = fc.integer({ min: 0, max: 0x10_f7ff }).map((n) => String.fromCodePoint(n < 0xd800 ? n : n + 0x800));
  fc.assert(fc.property(fc.string({ unit: codePoint }), (t) => void expect(unescapeText(quoteText(t))).toBe(t)));
});
