/** What becomes of a value that a rule gives: on its own record, and on others. */
import { describe, expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import type { RecordData, Rule } from '../document/document.ts';
import { RecordsSource } from '../records/record-source.ts';
import { settleAndPropagate } from '../related/propagation.ts';
import { dealBook, dealRecords, recordOf, ruleOf, setTo, writeOf } from '../testing/deals.ts';
import type { Write } from '../records/write.ts';

const pairs = (formula: string, ...list: readonly (readonly [string, unknown])[]) => ({
  by: 'pairs',
  formula,
  pairs: list.map(([from, to]) => ({ from, to })),
});
const map = (type: string, source: object, onto: string, outputs: readonly object[], more: object = {}): Rule =>
  ruleOf(type, 'map', {
    source,
    onto,
    outputs,
    blank: { do: 'leave' },
    none: { do: 'leave' },
    several: { do: 'leave' },
    ...more,
  });
const out = (target: string, way = 'replace') => ({ value: '', target, way });
const limit = (otherwise: string, allowed: readonly string[], more: Partial<Rule> = {}, field = 'size'): Rule =>
  ruleOf(
    'customer',
    'validate',
    { limits: [{ field, source: 'Home country', grid: [{ value: 'Spain', allowed }], otherwise, message: '' }] },
    more,
  );
const settled = (rules: readonly Rule[], write: Write, records = dealRecords) => {
  const program = compileProgram(dealBook(rules));
  expect(program.broken.flatMap((r) => r.diagnostics.map((d) => d.message))).toEqual([]);
  return settleAndPropagate(program, write, new RecordsSource(records), { trace: true });
};

describe('on the record itself', () => {
  const long = `"${'x'.repeat(300)}"`;
  it.each<
    [string, readonly Rule[], RecordData | null, Record<string, unknown>, RecordData, readonly (string | RegExp)[]]
  >([
    [
      'a list of one is the one',
      [ruleOf('customer', 'derive', setTo('region', '["South"]'))],
      null,
      { name: 'A' },
      { region: 'south' },
      [],
    ],
    [
      'an empty list is blank',
      [ruleOf('customer', 'derive', setTo('region', 'if Name = "A" then [] else ["South"]'))],
      { region: 'south' },
      { name: 'A' },
      {},
      [],
    ],
    [
      'a list of two fits no field of one',
      [ruleOf('customer', 'derive', setTo('postcode', '["a", "b"]'))],
      null,
      { name: 'A' },
      {},
      [/which is not a text/],
    ],
    [
      'what does not fit stops, cut where it is long',
      [ruleOf('customer', 'derive', setTo('currency', long))],
      null,
      { name: 'A' },
      {},
      [/gives x{199}…, which is longer than 3 characters/],
    ],
    [
      'or warns, where the rule says so',
      [ruleOf('customer', 'derive', setTo('currency', '"EURO"', { lenient: true }))],
      null,
      { name: 'A' },
      {},
      [/gives EURO, which/],
    ],
    [
      'nothing fits: it stops, in the words of the rule',
      [
        map('customer', pairs('Home country', ['Spain', 'south']), '', [out('region')], {
          none: { do: 'stop', message: 'No such land.' },
        }),
      ],
      null,
      { country: 'chile' },
      {},
      ['No such land.'],
    ],
    [
      'or in ours',
      [
        map('customer', pairs('Home country', ['Spain', 'south']), '', [out('region')], {
          none: { do: 'stop', message: '' },
        }),
      ],
      null,
      { country: 'chile' },
      {},
      [/^Rule \d+ gives no value for Region\.$/],
    ],
    [
      'a list is added to, in the order of its field',
      [ruleOf('customer', 'derive', setTo('crops', 'if Name = "A" then ["Grape", "Apple"] else []', { way: 'add' }))],
      { crops: ['pear'] },
      { name: 'A' },
      { crops: ['apple', 'pear', 'grape'] },
      [],
    ],
    [
      'and taken out of',
      [ruleOf('customer', 'derive', setTo('crops', 'if Name = "A" then ["Pear"] else []', { way: 'remove' }))],
      { crops: ['pear'] },
      { name: 'A' },
      {},
      [],
    ],
    [
      'what is not on offer any more goes',
      [limit('clear', ['Micro'])],
      { size: 'large' },
      { country: 'spain' },
      {},
      [],
    ],
    [
      'or the only one left takes its place',
      [limit('only', ['Micro'])],
      { size: 'large' },
      { country: 'spain' },
      { size: 'micro' },
      [],
    ],
    ['not where there are two', [limit('only', ['Micro', 'Small'])], { size: 'large' }, { country: 'spain' }, {}, []],
    [
      'several limits meet',
      [limit('clear', ['Micro', 'Small']), limit('only', ['Small', 'Large'])],
      { size: 'large' },
      { country: 'spain' },
      { size: 'small' },
      [],
    ],
    [
      'but for those that are off, elsewhere or do not hold',
      [
        limit('clear', ['Large']),
        limit('only', ['Micro'], { on: false }),
        limit('only', ['Micro'], { entryPoints: ['api'] }),
        limit('only', ['Micro'], { condition: 'Name = "Z"' }),
      ],
      { size: 'large' },
      { country: 'spain' },
      { size: 'large' },
      [],
    ],
    [
      'of a list only what is not on offer',
      [limit('clear', ['Apple', 'Pear'], {}, 'crops')],
      { crops: ['apple', 'olive'] },
      { country: 'spain' },
      { crops: ['apple'] },
      [],
    ],
  ])('%s', (_, rules, before, sent, data, messages) => {
    const { settlement } = settled(rules, writeOf('customer', before, sent, { id: '9' }));
    expect(settlement.data).toMatchObject(data);
    expect(Object.keys(settlement.data).filter((k) => !(k in data) && !(k in sent) && k !== 'stop')).toEqual([]);
    expect(settlement.messages.map((m) => m.text)).toEqual(
      messages.map((m) => (typeof m === 'string' ? m : expect.stringMatching(m))),
    );
  });

  it('a program is told which of several values are not on offer', () => {
    const write = writeOf(
      'customer',
      { country: 'spain' },
      { crops: ['apple', 'olive', 'grape'] },
      { typed: [], id: '9' },
    );
    const { settlement } = settled([limit('clear', ['Apple'], {}, 'crops')], write);
    expect([settlement.verdict, settlement.messages.map((m) => m.text)]).toEqual([
      'stopped',
      ['Olive, Grape is not on offer for Crops here.'],
    ]);
  });
});

describe('on another record', () => {
  const before = dealRecords[6]!.data;
  const withCrops = (...crops: readonly string[]) =>
    dealRecords.map((r) => (r.id === '1' ? recordOf('customer', '1', { ...r.data, crops }) : r));
  const crops = (way: string, ...keys: readonly string[]): Rule =>
    map('deal', pairs('Stage', ['Won', keys]), 'customer', [out('crops', way)]);
  it.each<[string, readonly Rule[], readonly string[], readonly string[] | undefined]>([
    [
      'what two rules add to a list is there, both',
      [crops('add', 'grape'), crops('add', 'apple')],
      ['pear'],
      ['apple', 'pear', 'grape'],
    ],
    ['one adds, another takes out', [crops('add', 'grape'), crops('remove', 'pear')], ['pear'], ['grape']],
    ['what is there already is no change', [crops('add', 'pear')], ['pear'], undefined],
    [
      'one puts its own in the place, another adds',
      [crops('replace', 'olive'), crops('add', 'grape')],
      ['pear'],
      ['olive', 'grape'],
    ],
  ])('%s', (_, rules, stored, after) => {
    const t = settled(rules, writeOf('deal', before, { stage: 'won' }, { id: '21' }), withCrops(...stored));
    expect([t.settlement.verdict, t.settlement.messages]).toEqual(['saved', []]);
    expect(t.followers.map((f) => f.settlement.data['crops'])).toEqual(after ? [after] : []);
  });

  it('what two records add to a list of a third in one wave is there, both', () => {
    const total = ruleOf('customer', 'derive', setTo('open', 'sum(Deals.Cost)'));
    const area = map(
      'customer',
      pairs('string(Open deal value > 0)', ['true', ['apple']], ['false', ['grape']]),
      'head',
      [out('crops', 'add')],
    );
    const book = dealBook([total, area]);
    const recordTypes = book.recordTypes.map((t) =>
      t.key === 'customer'
        ? { ...t, fields: [...t.fields, { key: 'head', name: 'Head', type: 'lookup', recordType: 'customer' }] }
        : t,
    );
    const records = dealRecords.map((r) =>
      r.recordType === 'customer' && r.id !== '3'
        ? recordOf('customer', r.id, { ...r.data, head: '3', open: r.id === '1' ? 5 : 0 })
        : r,
    );
    const t = settleAndPropagate(
      compileProgram({ ...book, recordTypes }),
      writeOf('deal', before, { customer: '2', cost: 3 }, { id: '21' }),
      new RecordsSource(records),
    );
    expect(t.settlement.messages).toEqual([]);
    expect(t.followers.findLast((f) => f.id === '3')?.settlement.data['crops']).toEqual(['apple', 'grape']);
  });

  it.each<[string, Rule, RegExp]>([
    [
      'a value that its field cannot hold stops, naming rule and field',
      map(
        'deal',
        { by: 'table', table: 'countries', keys: { country: 'if Stage = "Won" then "Spain" else "Chile"' } },
        'customer',
        [{ ...out('open'), value: 'currency' }],
      ),
      /^Rule \d+ gives EUR for Open deal value, which is not a number/,
    ],
    [
      'nothing fits: it stops',
      map('deal', pairs('Stage', ['Surveyed', 'x']), 'customer', [out('postcode')], {
        none: { do: 'stop', message: '' },
      }),
      /^Rule \d+ gives no value for Customer\.$/,
    ],
    [
      'in the words of the rule',
      map('deal', pairs('Stage', ['Proposal', 'x']), 'customer', [out('postcode')], {
        none: { do: 'stop', message: 'Say which.' },
      }),
      /^Say which\.$/,
    ],
  ])('%s', (_, rule, text) => {
    const { settlement } = settled([rule], writeOf('deal', before, { stage: 'won' }, { id: '21' }));
    expect([settlement.verdict, settlement.messages.map((m) => m.text)]).toEqual([
      'stopped',
      [expect.stringMatching(text)],
    ]);
  });
});
