/** Whatever a document is, it compiles to rules that run and diagnostics that say what does not. */
import { Ajv2020 } from 'ajv/dist/2020.js';
import { describe, expect, it } from 'vitest';
import { findingsOf } from '../analysis/findings.ts';
import { compileProgram } from '../compile/program.ts';
import { settle } from '../settle/settle.ts';
import { RecordsSource } from '../records/record-source.ts';
import { runTests } from '../rule-tests/run.ts';
import { dealBook, ruleOf, setTo } from '../testing/deals.ts';
import { randomBy } from '../testing/random-formulas.ts';
import type { Rulebook } from './document.ts';
import { rulebookText } from '../formats/rulebook-text.ts';
import { rulebookSchema } from './schema.ts';
import { shapeProblem } from './shape.ts';
import { type PartKind, toParts } from './parts.ts';
import { partProblem, wellFormed } from './well-formed.ts';
import { runsOf } from '../testing/runs.ts';

const clear = { do: 'clear' };
const book = dealBook(
  [
    ruleOf('deal', 'derive', setTo('title', '"a"'), { condition: 'Amount > 1', repeat: 'starts', wakesOn: ['amount'] }),
    ruleOf('deal', 'default', { target: 'cost', value: '750' }),
    ruleOf('deal', 'categorize', {
      source: 'Amount',
      target: 'title',
      bands: [
        { from: 0, to: 9, result: 'low' },
        { from: 9, result: 'high' },
      ],
      blank: clear,
      outside: clear,
    }),
    ruleOf('customer', 'map', {
      source: { by: 'table', table: 'countries', keys: { country: 'Home country' } },
      onto: '',
      outputs: [{ value: 'region', target: 'region', way: 'replace' }],
      blank: clear,
      none: clear,
      several: clear,
    }),
    ruleOf(
      'deal',
      'validate',
      { checks: [{ hold: 'must', formula: 'Amount >= 0', message: 'No.', field: 'amount' }], required: ['title'] },
      { notify: [{ channel: 'task', to: '"a@b.example"', subject: '{Title}', body: 'x', dueInDays: 3 }] },
    ),
  ],
  {
    samples: [{ key: 's', recordType: 'deal', data: { amount: 5 } }],
    tests: [
      {
        key: 't',
        name: 'T',
        recordType: 'deal',
        before: null,
        sent: { amount: 5 },
        moment: 'creating',
        entryPoint: 'api',
        now: '2026-05-03T09:00:00Z',
        expect: { fields: { title: 'a' }, states: { amount: { required: true } } },
      },
    ],
    accepted: [{ finding: 'x', reason: 'y' }],
    formerNames: { 'deal.Size': 'Amount' },
  },
);

const junk: readonly unknown[] = [
  null,
  true,
  0,
  -1,
  1.5,
  1e308,
  '',
  'x',
  '^',
  '{',
  'constructor',
  '__proto__',
  [],
  {},
  [null],
  [[]],
  { key: 'constructor' },
  { key: 'x', name: 'x', type: 'text' },
  'text',
  'lookup',
  'picklist',
  'deal',
  'derive',
  'form:full',
  '1..',
  'A'.repeat(30_000),
  { toString: 1 },
  'Amount',
  { from: 1, to: 0 },
  ['derive'],
  { tests: '^' },
  { blank: true },
  '@"2026',
  NaN,
];

/** The document with some nodes replaced, taken out, doubled or renamed. */
function mangled(document: unknown, random: () => number): unknown {
  const copy = JSON.parse(JSON.stringify(document)) as unknown;
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
  for (let n = 1 + Math.floor(random() * 4); n > 0; n--) {
    let at = copy;
    for (;;) {
      if (typeof at !== 'object' || at === null) break;
      const keys = Object.keys(at);
      if (keys.length === 0) break;
      const key = pick(keys);
      const inner = (at as Record<string, unknown>)[key];
      if (typeof inner === 'object' && inner !== null && random() < 0.8) {
        at = inner;
        continue;
      }
      const own = at as Record<string, unknown>;
      const act = random();
      if (act < 0.6) own[key] = structuredClone(pick(junk));
      else if (act < 0.75 && Array.isArray(at)) at.push(inner, JSON.parse(JSON.stringify(inner ?? null)));
      else if (act < 0.9 && Array.isArray(at)) at.splice(Number(key), 1);
      else if (act < 0.9) Reflect.deleteProperty(own, key);
      else if (!Array.isArray(at)) {
        // As JSON.parse makes it: a member of its own, whatever its name.
        const name = pick(['x', 'constructor', '__proto__', 'toString', '']);
        Object.defineProperty(own, name, { value: inner, enumerable: true, configurable: true, writable: true });
      }
      break;
    }
  }
  return random() < 0.02 ? pick(junk) : copy;
}

/** A finding of its own, with a repair. */
const withoutWinner = shapeProblem(
  { ...book.rules[0], winner: undefined },
  rulebookSchema.properties.rules.items,
)?.problem;
const mangledBooks = runsOf(200);
const validate = new Ajv2020({ allowUnionTypes: true }).compile(rulebookSchema);

it('a mangled document compiles, is looked through, read aloud and settles; its shape is judged as the schema says', () => {
  const random = randomBy(42);
  let told = 0;
  for (let i = 0; i < mangledBooks; i++) {
    const document = mangled(book, random);
    const program = compileProgram(document as Rulebook);
    findingsOf(program);
    rulebookText(program);
    runTests(program, program.rulebook.tests ?? []);
    for (const { key } of program.rulebook.recordTypes) {
      const write = {
        recordType: key,
        sent: { amount: 5, country: 'Spain' },
        typed: ['amount'],
        entryPoint: 'api',
        now: '2026-05-03T09:00:00Z',
      };
      settle(program, { ...write, before: null, moment: 'creating' }, new RecordsSource([]));
      settle(
        program,
        { ...write, before: { data: { amount: 1 }, held: ['title'] }, moment: 'updating' },
        new RecordsSource([]),
      );
    }
    const right = !shapeProblem(document, rulebookSchema);
    expect(right, JSON.stringify(document)?.slice(0, 2_000)).toBe(validate(document));
    if (!right && shapeProblem(document, rulebookSchema)?.problem !== withoutWinner) {
      told++;
      expect(program.problems.length, JSON.stringify(shapeProblem(document, rulebookSchema))).toBeGreaterThan(0);
    }
  }
  expect(told).toBeGreaterThan(mangledBooks / 3);
});

describe('what is wrong with a document is said, and the rest runs', () => {
  const [first] = book.rules;
  const [type] = book.recordTypes;
  it.each<[string, unknown, string]>([
    [
      'a rule that is no object',
      { ...book, rules: [...book.rules, 7] },
      'The rule (number 6) is left out: it must be an object.',
    ],
    [
      'a rule without moments',
      { ...book, rules: [{ ...first!, moments: 'all' }] },
      `The rule ${first!.name} is left out: moments must be a list.`,
    ],
    [
      'a rule twice',
      { ...book, rules: [first, { ...first! }] },
      `The rule ${first!.name} has the key ${first!.key}, which another one has: it is left out.`,
    ],
    [
      'a record type twice',
      { ...book, recordTypes: [...book.recordTypes, { ...type! }] },
      'The record type Customer has the key customer, which another one has: it is left out.',
    ],
    [
      'a field twice',
      {
        ...book,
        recordTypes: [{ ...type!, fields: [...type!.fields, { ...type!.fields[0]! }] }, ...book.recordTypes.slice(1)],
      },
      'The field Name has the key customer.name, which another one has: it is left out.',
    ],
    [
      'two fields of one name',
      {
        ...book,
        recordTypes: [
          { ...type!, fields: [...type!.fields, { key: 'n', name: 'Name', type: 'text' }] },
          ...book.recordTypes.slice(1),
        ],
      },
      'Two fields are named Name.',
    ],
    [
      'a table twice',
      { ...book, tables: [...book.tables!, { ...book.tables![0]! }] },
      'The table Country table has the key countries, which another one has: it is left out.',
    ],
    [
      'a row that is none',
      { ...book, tables: [{ ...book.tables![0]!, rows: [null] }] },
      'Row 1 of the table Country table is left out: it must be an object.',
    ],
    [
      'rows that are none',
      { ...book, tables: [{ ...book.tables![0]!, rows: 'all' }] },
      'What stands as rows of the table Country table is left out: it must be a list.',
    ],
    ['rules that are none', { ...book, rules: 'all' }, 'What stands as rules is left out: it must be a list.'],
    ['no zone', { ...book, zone: undefined }, 'The rulebook does not say its time zone: UTC is taken.'],
    ['a zone that is none', { ...book, zone: 7 }, 'A setting of the rulebook is left out: time zone must be a text.'],
    [
      'a setting that nobody knows',
      { ...book, colour: 'red' },
      'A setting of the rulebook is left out: colour must not stand here.',
    ],
  ])('%s', (_, document, message) => {
    const program = compileProgram(document as Rulebook);
    expect(program.problems.map((p) => p.diagnostic.message)).toContain(message);
    expect(findingsOf(program).some((f) => f.severity === 'error' && f.sentence === message)).toBe(true);
  });

  it('a document that is well formed is the same object', () => {
    expect(wellFormed(book)).toEqual({ rulebook: book, problems: [] });
    expect(wellFormed(book).rulebook).toBe(book);
  });
});

describe('a part alone', () => {
  const book = dealBook([ruleOf('deal', 'derive', setTo('cost', '1'))]);
  it('of a whole document has the shape of its kind', () => {
    for (const { kind, body } of toParts(book)) expect([kind, partProblem(kind, body)]).toEqual([kind, undefined]);
  });

  it.each<[PartKind, (body: Record<string, unknown>) => unknown, string]>([
    ['rule', (b) => ({ ...b, winner: 'me' }), 'Who wins over a person must be one of rule, person, later, locked.'],
    ['rule', (b) => ({ ...b, extra: 1 }), 'Extra must not stand here.'],
    ['rule', (b) => ({ ...b, entryPoints: ['form', 2] }), 'Number 2 of entry points must be a text.'],
    ['rule', ({ entryPoints: _, ...b }) => b, 'The rule must have its entry points.'],
    ['rule', ({ repeat: _, ...b }) => b, 'The rule must say how often it acts.'],
    ['field', (b) => ({ ...b, scale: 2.5 }), 'Decimals must be a whole number.'],
    ['field', (b) => ({ ...b, scale: 11 }), 'Decimals must be at most 10.'],
    ['field', (b) => ({ ...b, length: 0 }), 'Most characters must be at least 1.'],
    ['field', (b) => ({ ...b, options: [{ key: 'a' }] }), 'Number 1 of options must have its name.'],
    ['field', (b) => ({ ...b, options: [{ key: 'a', name: '' }] }), 'Name of number 1 of options must not be empty.'],
    ['table', (b) => ({ ...b, rows: [[1]] }), 'Number 1 of rows must be an object.'],
    ['record type', (b) => ({ ...b, plural: 7 }), 'Name of several must be a text.'],
    ['settings', (b) => ({ ...b, zone: null }), 'Time zone must be a text.'],
    ['settings', (b) => ({ ...b, formerNames: { a: 1 } }), 'A of former names must be a text.'],
    ['rule', () => null, 'The rule must be an object.'],
  ])('a %s that has not is told where', (kind, change, says) => {
    const body = toParts(book).find((p) => p.kind === kind)!.body as Record<string, unknown>;
    expect(partProblem(kind, change(body))).toBe(says);
  });
});
