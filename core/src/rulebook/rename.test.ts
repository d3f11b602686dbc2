import { describe, expect, it } from 'vitest';
import { compileProgram } from '../engine/program.ts';
import { dealBook, ruleOf, setTo } from '../testing/deals.ts';
import { diffRulebooks } from './diff.ts';
import { isFieldName } from './names.ts';
import { rename, textsOf, type Renaming } from './rename.ts';

const amount = { what: 'field', recordType: 'deal', key: 'amount', name: 'Order value' } as const;
const customerName = { what: 'field', recordType: 'customer', key: 'name', name: 'Firm' } as const;
const won = { what: 'option', recordType: 'deal', field: 'stage', key: 'won', name: 'Signed' } as const;
const table = { what: 'table', key: 'countries', name: 'Land list' } as const;
const column = { what: 'column', table: 'countries', key: 'region', name: 'World part' } as const;

it('a changed table is told row by row', () => {
  const before = dealBook([]);
  const [t] = before.tables!;
  const rows = [{ ...t!.rows[0]!, region: 'North' }, t!.rows[2]!, { country: 'Chile', region: 'South' }];
  const [change] = diffRulebooks(before, { ...before, tables: [{ ...t!, rows }] });
  expect(change!.phrases).toEqual([
    'rows added: Chile',
    'rows removed: Spain',
    'Table region of Portugal South → North',
  ]);
});

describe('renaming rewrites what means the thing, and nothing else', () => {
  it.each<[Renaming, string, string]>([
    [amount, 'Amount  +  Cost // the Amount', 'Order value  +  Cost // the Amount'],
    [amount, 'previous.Amount + record.Amount', 'previous.Order value + record.Order value'],
    [amount, '{Amount: 1}.Amount + Cost', '{Amount: 1}.Amount + Cost'],
    [amount, 'for Amount in [1] return Amount', 'for Amount in [1] return Amount'],
    [amount, 'sum(Customer.Deals[Amount > 1].Amount)', 'sum(Customer.Deals[Order value > 1].Order value)'],
    [amount, '"Amount"', '"Amount"'],
    [customerName, 'Customer.Name', 'Customer.Firm'],
    [customerName, 'Customer.Service area.Name', 'Customer.Service area.Name'],
    [won, 'if Stage = "Won" then "Won" else null', 'if Stage = "Signed" then "Won" else null'],
    [won, 'Stage in ("Won", "Proposal")', 'Stage in ("Signed", "Proposal")'],
    [table, 'Country table[Country = "Spain"].Table currency', 'Land list[Country = "Spain"].Table currency'],
    [column, 'Country table[Table region = "South"].Table region', 'Land list'],
  ])('%o: %s', (renaming, before, after) => {
    const rule = ruleOf('deal', 'derive', setTo('title', before));
    const result = rename(dealBook([rule]), renaming);
    if ('problem' in result) throw new Error(result.problem);
    const text = textsOf(result.rulebook.rules[0]!)[0]!.text;
    expect(text).toBe(renaming === column ? 'Country table[World part = "South"].World part' : after);
    if (before !== text) expect(result.rewritten.map((r) => r.path)).toEqual(['/outcome/steps/0/formula']);
  });

  it.each<[string, string, string]>([
    ['stage', 'if Amount > 1 then "Won" else "Proposal"', 'if Amount > 1 then "Signed" else "Proposal"'],
    ['stage', 'first filled(null, "Won") // Won', 'first filled(null, "Signed") // Won'],
    ['title', '"Won"', '"Won"'],
  ])('an option that a formula gives to %s: %s', (target, before, after) => {
    const result = rename(dealBook([ruleOf('deal', 'derive', setTo(target, before))]), won);
    if ('problem' in result) throw new Error(result.problem);
    expect(textsOf(result.rulebook.rules[0]!)[0]!.text).toBe(after);
  });

  it('in templates, conditions, notifications, pairs and tables', () => {
    const rule = ruleOf(
      'deal',
      'derive',
      { steps: [{ target: 'title', scratch: '', template: 'For {Amount} {{Amount}}', blank: 'gaps' }] },
      {
        condition: 'Amount > 1',
        notify: [{ channel: 'email', to: '"a@b.example"', subject: '{Amount}', body: 'Amount' }],
      },
    );
    const result = rename(dealBook([rule]), amount);
    if ('problem' in result) throw new Error(result.problem);
    expect(textsOf(result.rulebook.rules[0]!).map((t) => t.text)).toEqual([
      'Order value > 1',
      'For {Order value} {{Amount}}',
      '"a@b.example"',
      '{Order value}',
      'Amount',
    ]);
    const country = rename(dealBook([]), {
      what: 'option',
      recordType: 'customer',
      field: 'country',
      key: 'spain',
      name: 'España',
    });
    expect('rulebook' in country && country.rulebook.tables![0]!.rows[1]!['country']).toBe('España');
  });

  it('a former name is offered where a text still says it', () => {
    const result = rename(dealBook([ruleOf('deal', 'derive', setTo('cost', 'Amount + + 1'))]), amount);
    if ('problem' in result) throw new Error(result.problem);
    const late = { ...result.rulebook, rules: [ruleOf('deal', 'derive', setTo('cost', 'Amount + 1'))] };
    const [d] = compileProgram(late).broken[0]!.diagnostics;
    expect(d!.message).toContain('Did you mean Order value?');
  });

  it.each<[Renaming, RegExp]>([
    [{ ...amount, name: 'Cost' }, /taken/],
    [{ ...amount, name: 'Amount (net)' }, /cannot be a name/],
    [{ ...amount, name: 'if' }, /cannot be a name/],
    [{ ...amount, key: 'nothing' }, /no such field/],
    [{ ...won, key: 'lost' }, /no such option/],
    [{ ...table, key: 'x' }, /no such table/],
    [{ ...column, key: 'x' }, /no such column/],
    [{ ...amount, name: 'Tax' }, /Rule \d+ would no longer mean the same/],
  ])('%o is refused', (renaming, problem) => {
    const clash = ruleOf('deal', 'derive', setTo('cost', 'for Tax in [1, 2] return Amount'), {});
    const rules =
      renaming.name === 'Tax'
        ? [{ ...clash, outcome: setTo('title', 'string(sum(for Tax in [1] return Amount))') }]
        : [];
    const result = rename(dealBook(rules), renaming);
    expect('problem' in result && result.problem).toMatch(problem);
  });

  it.each<[string, boolean]>([
    ['Umsatz 2', true],
    ['Größe', true],
    ['販売', true],
    ['2nd', false],
    ['a  b', false],
    ['a-b', false],
    ['Sales and costs', false],
    ['', false],
  ])('%s as a name: %s', (name, ok) => {
    expect(isFieldName(name)).toBe(ok);
  });
});
