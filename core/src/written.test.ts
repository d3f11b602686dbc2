/** What core says of numbers and days, as the organisation of the rulebook writes them; what is kept stays neutral. */
import { expect, it } from 'vitest';
import { findingsOf } from './analysis/index.ts';
import { compileProgram, recompileProgram, type Program } from './compile/index.ts';
import type { Rule, Rulebook, RuleTest } from './document/document.ts';
import { rulebookText } from './formats/rulebook-text.ts';
import { plainWriting } from './language/types/writing.ts';
import { diffRulebooks } from './refactor/diff.ts';
import { RecordsSource } from './records/index.ts';
import { coverageOf } from './rule-tests/coverage.ts';
import { mutantsOfRule } from './rule-tests/mutants.ts';
import { runTest } from './rule-tests/run.ts';
import { suggestTests } from './rule-tests/suggest.ts';
import { customerType } from './testing/customers.ts';
import { dealBook, mapOf, outputOf, pairsOf, ruleOf, setTo, writeOf } from './testing/deals.ts';
import { german } from './testing/german.ts';
import { settle } from './settle/index.ts';

const bandsOf = (...bands: readonly object[]): Rule =>
  ruleOf('customer', 'categorize', {
    source: 'Open deal value',
    target: 'size',
    bands,
    blank: { do: 'leave' },
    outside: { do: 'leave' },
  });
const locked = ruleOf('customer', 'derive', setTo('open', '1234.5'), { winner: 'locked', name: 'One value' });
const bands = bandsOf({ from: 1000, to: 2500.5, result: 'micro' }, { from: 2500.5, result: 'large' });
const apart = bandsOf({ from: 1000, to: 2000, result: 'micro' }, { from: 3000, result: 'large' });
const table = {
  key: 'steps',
  name: 'Steps',
  purpose: '',
  hitPolicy: 'unique',
  keys: [{ key: 'value', name: 'Value', type: 'number' }],
  outputs: [{ key: 'size', name: 'Size', type: 'text' }],
  rows: [
    { value: { from: 1000, to: 2500 }, size: 'a' },
    { value: { from: 2400, to: 9000 }, size: 'b' },
  ],
};
const place = { locale: 'de-DE' };
const bookOf = (...rules: readonly Rule[]): Rulebook => dealBook(rules, { ...place, tables: [table as never] });
const host = { writing: ({ locale }: { readonly locale?: string }) => (locale === 'de-DE' ? german : plainWriting) };
const programOf = (...rules: readonly Rule[]): Program => compileProgram(bookOf(...rules), host);
const typeOf = (program: Program, key = 'customer') => program.types.get(key)!;

const test: RuleTest = {
  key: 't',
  name: 'T',
  recordType: 'customer',
  before: { data: { open: 1234.5 } },
  sent: { open: 99 },
  moment: 'updating',
  entryPoint: 'api',
  now: '2026-05-03T09:00:00+01:00',
  expect: { fields: { open: 1000 } },
};

it.each<readonly [what: string, said: () => readonly string[], part: string]>([
  [
    'a diagnostic',
    () => typeOf(programOf(apart)).rules[0]!.diagnostics.map((d) => d.message),
    'from 1.000, below 2.000',
  ],
  [
    'a finding of bands',
    () => {
      const program = programOf({ ...bands, condition: 'Open deal value > 5000' });
      return findingsOf(program).map((f) => f.sentence);
    },
    'from 1.000, below 2.500,5',
  ],
  ['a finding of rows', () => findingsOf(programOf()).map((f) => f.sentence), 'for 2.400 the look-up finds several'],
  [
    'a planted fault',
    () => {
      const program = programOf(bands);
      const type = typeOf(program);
      return mutantsOfRule(type.rules[0]!, type, program.rulebook).map((m) => m.text);
    },
    'the boundary 2.500,5 moved to',
  ],
  ['a branch', () => [JSON.stringify(coverageOf(programOf(bands), []))], 'from 1.000, below 2.500,5'],
  ['a suggested test', () => suggestTests(programOf(bands)).map((s) => JSON.stringify(s)), 'just below 1.000 €'],
  [
    'what a test found',
    () => runTest(programOf(locked), test).failures,
    'Open deal value is 1.234,50 €, not 1.000,00 €',
  ],
  [
    'a message of the engine',
    () => {
      const write = writeOf('customer', { open: 1234.5 }, { open: 99 }, { entryPoint: 'api' });
      return settle(programOf(locked), write, new RecordsSource([])).messages.map((m) => m.text);
    },
    'One value gives 1.234,50 €',
  ],
  [
    'what is sent and does not fit',
    () => {
      const types = [{ ...customerType, fields: [{ key: 'n', name: 'N', type: 'number', max: 1000 }], title: [] }];
      const program = compileProgram({ ...bookOf(), recordTypes: types }, host);
      const write = writeOf('customer', {}, { n: '1500.5' }, { entryPoint: 'api' });
      return settle(program, write, new RecordsSource([])).messages.map((m) => m.text);
    },
    '1.500,5 is above 1.000',
  ],
  [
    'pairs',
    () => {
      const rule = mapOf('customer', pairsOf('Region', ['South', 1500.5]), [outputOf('open')]);
      return diffRulebooks(bookOf(), bookOf(rule), german).flatMap((c) => c.phrases);
    },
    '1.500,50 €',
  ],
  [
    'what a release changes',
    () => {
      const fields = (max: number) => [{ ...customerType.fields[0]!, type: 'number', max }];
      const book = (max: number) => ({ ...bookOf(), recordTypes: [{ ...customerType, fields: fields(max) }] });
      return diffRulebooks(book(1000), book(2000.5), german).flatMap((c) => c.phrases);
    },
    'at most 1.000 → 2.000,5',
  ],
  ['the document', () => [JSON.stringify(rulebookText(programOf(bands)))], 'from 1.000'],
])('as the organisation writes it: %s', (_, said, part) => {
  expect(said().join('\n')).toContain(part);
});

it('what a test expects of messages is known by its words, whoever reads them', () => {
  const messages = ['Open deal value is locked: One value gives 1,234.50.'];
  const { failures } = runTest(programOf(locked), { ...test, expect: { messages } });
  expect(failures).toEqual([]);
});

it('another way of writing says all anew; the same goes on with what is compiled', () => {
  const program = programOf(apart);
  const message = (of: Program): string => typeOf(of).rules[0]!.diagnostics[0]!.message;
  expect(message(program)).toContain('1.000');
  const english = recompileProgram(program, { ...program.rulebook, locale: 'en-GB' });
  expect(message(english)).toContain('1,000');
  const renamed = recompileProgram(program, { ...program.rulebook, name: 'Other' });
  expect(typeOf(renamed)).toBe(typeOf(program));
});
