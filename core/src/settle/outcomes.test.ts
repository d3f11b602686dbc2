/** What becomes of a value that a rule gives: on its own record, and on others. */
import { describe, expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import type { Rule, Stored } from '../document/document.ts';
import { RecordsSource } from '../records/record-source.ts';
import { settleAndPropagate } from '../related/propagation.ts';
import { dealBook, dealRecords, recordOf, ruleOf, setTo, writeOf, mapOf, pairsOf, outputOf } from '../testing/deals.ts';
import type { Write } from '../records/write.ts';

const limit = (otherwise: string, allowed: readonly string[], more: Partial<Rule> = {}, field = 'size'): Rule =>
  ruleOf(
    'customer',
    'validate',
    { limits: [{ field, source: 'Home country', grid: [{ value: 'Spain', allowed }], otherwise, message: '' }] },
    more,
  );
const cropLimit = limit('clear', ['Apple'], {}, 'crops');
const settled = (rules: readonly Rule[], write: Write, records = dealRecords) => {
  const program = compileProgram(dealBook(rules));
  expect(program.broken.flatMap((r) => r.diagnostics.map((d) => d.message))).toEqual([]);
  return settleAndPropagate(program, write, new RecordsSource(records), { trace: true });
};

describe('on the record itself', () => {
  it.each<[string, string, string, object, Stored, Stored, RegExp?]>([
    ['a list of one is the one', 'region', '["South"]', {}, null, 'south'],
    ['an empty list is blank', 'region', '[]', {}, 'south', null],
    ['a list of two fits no field of one', 'postcode', '["a", "b"]', {}, null, null, /which is not a text/],
    [
      'what does not fit stops, cut where it is long',
      'currency',
      `"${'x'.repeat(300)}"`,
      {},
      null,
      null,
      /s x{199}…, which/,
    ],
    ['or warns, where the rule says so', 'currency', '"EURO"', { lenient: true }, null, null, /gives EURO, which/],
    [
      'a list is added to, in its order',
      'crops',
      '["Grape", "Apple"]',
      { way: 'add' },
      ['pear'],
      ['apple', 'pear', 'grape'],
    ],
    ['and taken out of', 'crops', '["Pear"]', { way: 'remove' }, ['pear'], null],
    ['a number that is not one is blank', 'open', 'number("x")', {}, 5, null],
  ])('%s', (_, target, formula, more, before, after, message) => {
    const rule = ruleOf('customer', 'derive', setTo(target, `if Name = "A" then ${formula} else null`, more));
    const { settlement } = settled([rule], writeOf('customer', { [target]: before }, { name: 'A' }, { id: '9' }));
    expect(settlement.data[target] ?? null).toEqual(after);
    expect(settlement.messages.map((m) => m.text)).toEqual(message ? [expect.stringMatching(message)] : []);
  });

  it.each<[string, readonly Rule[], string, string | undefined]>([
    ['what is not on offer any more goes', [limit('clear', ['Micro'])], 'large', undefined],
    ['or the only one left takes its place', [limit('only', ['Micro'])], 'large', 'micro'],
    ['not where there are two', [limit('only', ['Micro', 'Small'])], 'large', undefined],
    ['several limits meet', [limit('clear', ['Micro', 'Small']), limit('only', ['Small', 'Large'])], 'large', 'small'],
    ['but for one that is off', [limit('clear', ['Large']), limit('only', ['Micro'], { on: false })], 'large', 'large'],
    ['or elsewhere', [limit('clear', ['Large']), limit('only', ['Micro'], { entryPoints: ['api'] })], 'large', 'large'],
    [
      'or does not hold',
      [limit('clear', ['Large']), limit('only', ['Micro'], { condition: 'Credit stop = true' })],
      'large',
      'large',
    ],
  ])('%s', (_, rules, before, after) => {
    const { settlement } = settled(rules, writeOf('customer', { size: before }, { country: 'spain' }, { id: '9' }));
    expect([settlement.verdict, settlement.data['size']]).toEqual(['saved', after]);
  });

  const banded = (source: string, more: object) =>
    ruleOf('customer', 'categorize', {
      source,
      target: 'size',
      blank: { do: 'clear' },
      outside: { do: 'leave' },
      ...more,
    });
  const days = {
    bands: [
      { to: '2026-01-01', result: 'micro' },
      { from: '2026-01-01', to: '2027-01-01', result: 'large' },
    ],
  };
  const lands = {
    groups: [
      { values: ['Spain', 'Chile'], result: 'small' },
      { values: ['Norway'], result: 'large' },
    ],
  };
  it.each<[string, object, Record<string, unknown>, string | undefined]>([
    ['Reviewed on', days, { reviewed: '2025-12-31' }, 'micro'],
    ['Reviewed on', days, { reviewed: '2026-01-01' }, 'large'],
    ['Reviewed on', days, { reviewed: '2027-01-01' }, 'small'],
    ['Reviewed on', days, { reviewed: null }, undefined],
    ['date and time(Reviewed on, @"23:00:00")', days, { reviewed: '2025-12-31' }, 'micro'],
    ['Home country', lands, { country: 'chile' }, 'small'],
    ['Home country', lands, { country: 'norway' }, 'large'],
    ['Home country', lands, { country: 'portugal' }, 'small'],
    ['Home country', lands, { country: null }, undefined],
    ['{ f: function(x) x, v: f(if Credit stop then 5 else Name) }.v', lands, { stop: true }, 'small'],
    ['{ f: function(x) x, v: f(if Credit stop then 5 else Name) }.v', days, { stop: true }, 'small'],
  ])('%s falls where it belongs', (source, more, sent, size) => {
    const before = { size: 'small', reviewed: '2020-01-01', country: 'spain', stop: false, name: 'A' };
    expect(
      settled([banded(source, more)], writeOf('customer', before, sent, { id: '9' })).settlement.data['size'],
    ).toBe(size);
  });

  it('nothing fits: it stops, in the words of the rule or in ours', () => {
    const texts = ['No such land.', ''].map((message) => {
      const rule = mapOf('customer', pairsOf('Home country', ['Spain', 'south']), [outputOf('region')], '', {
        none: { do: 'stop', message },
      });
      return settled([rule], writeOf('customer', null, { country: 'chile' }, { id: '9' })).settlement.messages[0]?.text;
    });
    expect(texts).toEqual(['No such land.', expect.stringMatching(/^Rule \d+ gives no value for Region\.$/)]);
  });

  it('a program is told which of several values are not on offer', () => {
    const write = writeOf(
      'customer',
      { country: 'spain' },
      { crops: ['apple', 'olive', 'grape'] },
      { typed: [], id: '9' },
    );
    const { settlement } = settled([cropLimit], write);
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
    mapOf('deal', pairsOf('Stage', ['Won', keys]), [outputOf('crops', '', way)], 'customer');
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
    const area = mapOf(
      'customer',
      pairsOf('string(Open deal value > 0)', ['true', ['apple']], ['false', ['grape']]),
      [outputOf('crops', '', 'add')],
      'head',
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
      mapOf(
        'deal',
        { by: 'table', table: 'countries', keys: { country: 'if Stage = "Won" then "Spain" else "Chile"' } },
        [{ ...outputOf('open'), value: 'currency' }],
        'customer',
      ),
      /^Rule \d+ gives EUR for Open deal value, which is not a number/,
    ],
    [
      'nothing fits: it stops',
      mapOf('deal', pairsOf('Stage', ['Surveyed', 'x']), [outputOf('postcode')], 'customer', {
        none: { do: 'stop', message: '' },
      }),
      /^Rule \d+ gives no value for Customer\.$/,
    ],
    [
      'in the words of the rule',
      mapOf('deal', pairsOf('Stage', ['Proposal', 'x']), [outputOf('postcode')], 'customer', {
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
