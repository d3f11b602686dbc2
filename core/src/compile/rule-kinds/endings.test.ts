/** What happens where a map rule finds nothing, output by output; and messages that name fields. */
import { describe, expect, it } from 'vitest';
import { ruleSentence } from './sentence.ts';
import { sentenceWords } from '../../language/wording/words.ts';
import { compileProgram } from '../program.ts';
import { settle } from '../../settle/settle.ts';
import { emptySource } from '../../records/record-source.ts';
import { dealBook, ruleOf, setTo, pairsOf } from '../../testing/deals.ts';
import type { RecordData, Rule } from '../../document/document.ts';

const settled = (rule: Rule, data: RecordData, sent: Record<string, unknown>) =>
  settle(
    compileProgram(dealBook([rule])),
    {
      recordType: 'deal',
      id: '1',
      before: { data, held: [] },
      sent,
      typed: Object.keys(sent),
      moment: 'updating',
      entryPoint: 'form:full',
      now: '2026-05-03T09:00:00Z',
    },
    emptySource,
    { trace: true },
  );

const outcome = (otherwise: object) => ({
  source: pairsOf('Title', ['A', 5]),
  onto: '',
  outputs: [
    { value: '', target: 'cost', way: 'replace' },
    { value: '', target: 'amount', way: 'replace', otherwise },
  ],
  blank: { do: 'leave' },
  none: { do: 'clear' },
  several: { do: 'leave' },
});

describe('each output of a map rule', () => {
  const rule = ruleOf('deal', 'map', outcome({ none: { do: 'set', value: 7 } }));

  it('has an ending of its own, or that of the rule', () => {
    expect(settled(rule, { title: 'A', cost: 1, amount: 1 }, { title: 'B' }).data).toMatchObject({ amount: 7 });
    expect(settled(rule, { title: 'A', cost: 1, amount: 1 }, { title: 'B' }).data['cost'] ?? null).toBeNull();
    expect(settled(rule, { title: 'B', cost: 1, amount: 1 }, { title: 'A' }).data).toMatchObject({
      cost: 5,
      amount: 5,
    });
  });

  it('is held to its own field: a value that is none of it is a mistake where it stands', () => {
    const wrong = ruleOf('deal', 'map', outcome({ none: { do: 'set', value: 'five' } }));
    const [broken] = compileProgram(dealBook([wrong])).broken;
    expect(broken?.diagnostics).toMatchObject([
      { code: 'otherwise.value', path: '/outcome/outputs/1/otherwise/none/value', message: 'Amount is not a number.' },
    ]);
  });

  it('is read aloud by its name where they differ', () => {
    const book = dealBook([rule]);
    const type = book.recordTypes.find((t) => t.key === 'deal')!;
    const said = ruleSentence(rule, type, sentenceWords(type, book));
    expect(said).toContain('Cost cleared when Title is anything else.');
    expect(said).toContain('Amount set to 7 when Title is anything else.');
  });
});

describe('a message', () => {
  const check = (message: string) =>
    ruleOf('deal', 'validate', {
      checks: [{ hold: 'must', formula: 'Cost <= 100', message, field: 'cost' }],
      required: [],
      hidden: [],
      locked: [],
      limits: [],
    });

  it.each([
    ['No more than 100, not {Cost}.', 'No more than 100, not 250.'],
    ['{Title} is dear', 'A is dear'],
    ['Braces: {{x}}', 'Braces: {x}'],
    ['plain', 'plain'],
  ])('%s', (message, said) => {
    const { messages } = settled(check(message), { title: 'A', cost: 1 }, { cost: 250 });
    expect(messages.map((m) => m.text)).toEqual([said]);
  });

  it('that names no field of the record is a mistake', () => {
    expect(compileProgram(dealBook([check('{Csot} is dear')])).broken).toHaveLength(1);
  });

  it('does not wake its rule by what it names', () => {
    const program = compileProgram(dealBook([check('{Title} is dear')]));
    const type = program.types.get('deal')!;
    expect(type.rules[0]!.wakes.map((s) => type.slots[s]!.field.key)).toEqual(['cost']);
  });
});

describe('a mistake says the way', () => {
  const said = (target: string, formula: string) =>
    compileProgram(dealBook([ruleOf('deal', 'derive', setTo(target, formula))])).broken.flatMap((r) =>
      r.diagnostics.map((d) => d.message),
    );

  it.each([
    ['signed', 'today() + 14', /Write duration\("P14D"\)/],
    ['signed', 'Signing date - 1', /Write duration\("P1D"\)/],
    ['title', 'Country table', /is a whole table\. Look one value up in it: Country table\[Country = \.\.\.\]\[1\]\./],
  ])('%s becomes %s', (target, formula, way) => {
    expect(said(target, formula).join(' ')).toMatch(way);
  });

  it('and days can be added by a number', () => {
    expect(said('signed', 'add days(today(), 14)')).toEqual([]);
  });
});
