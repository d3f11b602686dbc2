/** What the Tests area says, apart from the page. */
import { draft } from '@rigid-rule/demo';
import { describe, expect, it } from 'vitest';
import { compileProgram } from '@rigid-rule/core/compile';
import type { RuleTest } from '@rigid-rule/core/document';
import { plainWriting, writtenValue } from '@rigid-rule/core/language';
import { settleTest } from '@rigid-rule/core/rule-tests';
import { survivorGroups } from './groups.ts';
import { speaksOf, testsOf } from '../proof/of-rule.ts';
import { familyOf, readList } from './pasted.ts';
import { axisValue, placePins } from './pins.ts';
import { fieldsThatMatter } from '../proof/fields-that-matter.ts';
import { testSentences } from '../proof/sentences.ts';

const customer = draft.recordTypes.find((t) => t.key === 'customer')!;
const rule = draft.rules.find((r) => r.key === 'size-class-from-employee-count')!;
const test: RuleTest = {
  key: 't',
  name: 'T',
  recordType: 'customer',
  before: { data: { employee_count: 48 } },
  sent: { employee_count: 50 },
  moment: 'updating',
  entryPoint: 'form:short',
  now: '2026-05-03T09:00:00+01:00',
  expect: { fields: { size_class: 'medium' }, didNotRun: ['credit-limit-for-large'] },
};

describe('a test read aloud', () => {
  it.each<[string, Partial<RuleTest>, string, readonly string[]]>([
    [
      'a change',
      {},
      'A customer with Employee count 48, through the short form: Employee count becomes 50.',
      ['Size class is Medium', '“Credit limit, required for large holdings” stays out'],
    ],
    [
      'a new record that is stopped',
      {
        before: null,
        sent: {},
        moment: 'creating',
        expect: { verdict: 'stopped', messages: ['No.'], states: { credit_limit: { required: true } } },
      },
      'A new customer, through the short form: nothing is sent.',
      ['Credit limit has to be filled in', 'it says “No.”', 'it is stopped'],
    ],
    [
      'a family',
      {
        sent: {},
        expect: {},
        family: { cases: { sent: ['employee_count'], expected: ['size_class'], rows: [[1, 'micro']] } },
      },
      'A customer with Employee count 48, through the short form: Employee count as listed.',
      ['Size class as listed'],
    ],
    [
      'each entry point',
      { expect: { notified: [] }, family: { entryPoints: ['import', 'api'] } },
      'A customer with Employee count 48, through each of file import, API: Employee count becomes 50.',
      ['nobody is told'],
    ],
    [
      'who writes, and which record is theirs',
      {
        before: null,
        sent: {},
        moment: 'opening',
        user: { name: 'Ada Lund', email: 'ada@fen.example', role: 'record keeper', contact: 'me' },
        related: [{ key: 'me', recordType: 'contact', data: { last_name: 'Lund', first_name: 'Ada' } }],
        expect: { fields: { main_contact: 'me' }, notified: ['a@fen.example'] },
      },
      'A new customer, through the short form, by Ada Lund (record keeper), who is Ada Lund: it is opened.',
      ['Main contact is Ada Lund', 'a@fen.example is told'],
    ],
    [
      'what a person holds, while a form is being filled in',
      {
        before: { data: { employee_count: 48, size_class: 'large' }, held: ['size_class', 'region'] },
        moment: 'editing',
        expect: { verdict: 'does not settle' },
      },
      'A customer with Employee count 48, Size class Large set by hand and Region left blank by hand, through the short form, while it is being filled in: Employee count becomes 50.',
      ['it does not settle'],
    ],
    [
      'what is written on a record beside it',
      {
        related: [{ key: '7', recordType: 'lead', data: { full_name: 'Ada Fen' } }],
        expect: { related: [{ recordType: 'lead', key: '7', field: 'region', value: 'south-europe' }] },
      },
      'A customer with Employee count 48, through the short form: Employee count becomes 50.',
      ['Lead Ada Fen: Region becomes South Europe'],
    ],
  ])('%s', (_, more, act, then) => {
    expect(testSentences({ ...test, ...more }, draft, (f, v) => writtenValue(f, v, plainWriting))).toEqual({
      act,
      then,
      unsaid: 0,
    });
  });

  it.each<[string, object, number, string]>([
    [
      'many values that do not matter are counted',
      { phone: '1', ledger_code: 'A', postcode: '6532' },
      3,
      ' and 3 other values',
    ],
    ['one or two are said', { ledger_code: 'A', postcode: '6532' }, 0, ', Ledger code A and Postcode 6532'],
  ])('%s', (_, more, unsaid, end) => {
    const long = { ...test, before: { data: { employee_count: 48, ...more } } };
    const about = new Set(['employee_count']);
    const said = testSentences(long, draft, (f, v) => writtenValue(f, v, plainWriting), about);
    expect([said.unsaid, said.act.split(', through')[0]]).toEqual([unsaid, `A customer with Employee count 48${end}`]);
  });
});

it('a test is about what its rules have to do with, what is sent and looked at, and the title', () => {
  const program = compileProgram(draft);
  const type = program.types.get('customer')!;
  const { trace } = settleTest(program, test);
  expect([...fieldsThatMatter(test, type, rule, trace)].sort()).toEqual(['employee_count', 'name', 'size_class']);
  expect(fieldsThatMatter({ ...test, before: { data: {}, held: ['depot'] } }, type, undefined)).toContain('depot');
});

it('a test speaks of the rules that it names, otherwise of those that write what it looks at', () => {
  expect(speaksOf({ ...test, expect: { fields: { size_class: 'small' } } }, rule)).toBe(true);
  expect(speaksOf({ ...test, expect: { fields: { size_class: 'small' }, ran: ['other'] } }, rule)).toBe(false);
  expect(speaksOf({ ...test, recordType: 'deal' }, rule)).toBe(false);
  expect(testsOf(draft.tests!, rule).length).toBeGreaterThan(2);
});

it('pins beside a boundary stand apart, the one at it stays', () => {
  const pin = (value: number, failing = false) => ({ value, failing, text: String(value) });
  const placed = placePins([pin(51), pin(50), pin(49), pin(50, true), pin(120)], [50], (v) => v, 400);
  expect(placed.map((p) => [p.value, p.x, p.failing])).toEqual([
    [49, 35, false],
    [50, 50, true],
    [51, 65, false],
    [120, 120, false],
  ]);
  expect([axisValue('1970-01-11', true), axisValue(4, false), axisValue('4', false)]).toEqual([10, 4, undefined]);
});

describe('a pasted list', () => {
  const read = (cells: string[][]) => readList(cells, customer);
  it('is read by the names of its columns, whatever their case', () => {
    expect(
      read([
        ['employee COUNT', 'Size class', 'Remark'],
        ['48', 'Small', 'x'],
        ['', '', ''],
      ]),
    ).toEqual({
      columns: [
        { heading: 'employee COUNT', field: 'employee_count' },
        { heading: 'Size class', field: 'size_class' },
        { heading: 'Remark', field: undefined },
      ],
      rows: [['48', 'Small', 'x']],
    });
    expect(read([['48', 'Small']]).columns.map((c) => c.field)).toEqual([undefined, undefined]);
  });

  it('becomes cases; what is no value of its field is told at its place', () => {
    const list = read([
      ['Size class', 'Employee count'],
      ['Small', '48'],
      ['Tiny', 'many'],
    ]);
    const { cases, problems } = familyOf(list, customer, new Set(['size_class']), (_, text) => text);
    expect(cases).toEqual({
      sent: ['employee_count'],
      expected: ['size_class'],
      rows: [
        [48, 'small'],
        [null, null],
      ],
    });
    expect(problems.map((p) => [p.row, p.column])).toEqual([
      [1, 1],
      [1, 0],
    ]);
  });
});

it('faults that go unnoticed are told together, with the tests that would notice', () => {
  const part = { kind: 'rule', key: 'r' } as const;
  const survivor = (kind: 'entry' | 'boundary', text: string) => ({ part, kind, text, test });
  const strength = { part, caught: 1, planted: 4, same: 0, undecided: [], possible: 4 };
  const survivors = [survivor('entry', 'a'), survivor('entry', 'b'), survivor('boundary', 'c')];
  expect(survivorGroups([{ ...strength, survivors }]).map((g) => [g.sentence, g.tests.length])).toEqual([
    ['Which entry points act: 2 changes would go unnoticed.', 1],
    ['Where a boundary stands: c, and nobody would notice.', 1],
  ]);
});
