/** A rule read aloud, as authors, releasers and auditors see it. */
import { describe, expect, it } from 'vitest';
import type { Rule } from '../../document/document.ts';
import { sentenceWords } from '../../language/wording/words.ts';
import { dealBook, ruleOf, setTo, mapOf, outputOf, pairsOf } from '../../testing/deals.ts';
import { ruleSentence } from './sentence.ts';

const book = dealBook([]);
const say = (rule: Rule): string => {
  const type = book.recordTypes.find((t) => t.key === rule.recordType)!;
  return ruleSentence(rule, type, sentenceWords(type, book));
};

const pairs = pairsOf('Stage', ['Won', 'large'], ['Lost', null], ['Proposal', 'large']);
const countries = { by: 'table', table: 'countries', keys: { country: 'Home country' } };
const firm = (...ways: readonly (readonly [string, string, string])[]) => ({
  by: 'match',
  recordType: 'customer',
  ways: ways.map(([field, formula, mode]) => ({ field, formula, mode })),
});

const cases: (readonly [string, Rule, string])[] = [
  [
    'pairs, those that give the same said once',
    mapOf('deal', pairs, [outputOf('size')], 'customer'),
    'On its customer, Size class becomes Large for Stage Won or Proposal; blank for Lost. Left as it is when Stage is blank or anything else.',
  ],
  [
    'a list that is added to',
    mapOf('customer', pairsOf('Size class', ['Large', ['Apple', 'Pear']]), [outputOf('crops', '', 'add')]),
    'Crops gains Apple and Pear for Size class Large. Left as it is when Size class is blank or anything else. A value that someone entered is replaced.',
  ],
  [
    'a table',
    mapOf('customer', countries, [outputOf('region', 'region'), outputOf('currency', 'currency')]),
    'Region and Currency come from Country table, looked up by Home country. Left as it is when Home country is blank, has no row or several. A value that someone entered is replaced.',
  ],
  [
    'one column of a table',
    mapOf('customer', countries, [outputOf('region', 'region')]),
    'Region comes from Country table, looked up by Home country. Left as it is when Home country is blank, has no row or several. A value that someone entered is replaced.',
  ],
  [
    'a table into a list',
    mapOf('customer', countries, [outputOf('crops', 'crops', 'add')]),
    'Crops gains what is in Country table, looked up by Home country. Left as it is when Home country is blank, has no row or several. A value that someone entered is replaced.',
  ],
  [
    'a table without a key',
    mapOf('customer', { ...countries, keys: { country: '' } }, [outputOf('region', 'region')]),
    'Region comes from Country table, looked up by nothing yet. Left as it is when the key is blank, has no row or several. A value that someone entered is replaced.',
  ],
  [
    'a table that is not there',
    mapOf('customer', { ...countries, table: 'gone' }, [outputOf('region', 'region')]),
    'Region comes from gone, looked up by Home country. Left as it is when Home country is blank, has no row or several. A value that someone entered is replaced.',
  ],
  [
    'a record found',
    mapOf('contact', firm(['name', 'Firm as given', 'folded'], ['phone', 'Email', 'exact']), [outputOf('customer')]),
    'Customer becomes the customer whose Name is Firm as given, whatever the case and spaces, or else whose Phone is Email. Left as it is when the key is blank, finds none or several. A value that someone entered is replaced.',
  ],
  [
    'a value of a record found',
    mapOf('contact', firm(['phone', 'Email', 'email domain']), [outputOf('last', 'match.Name')]),
    'Last name becomes the Name of the customer whose Phone has the domain of Email, free-mail domains left out. Left as it is when Email is blank, finds none or several. A value that someone entered is replaced.',
  ],
  [
    'a postcode area',
    mapOf(
      'customer',
      { by: 'match', recordType: 'area', ways: [{ field: 'prefix', formula: 'Postcode', mode: 'longest prefix' }] },
      [outputOf('area')],
    ),
    'Service area becomes the service area whose Postcode prefix is the longest beginning of Postcode. Left as it is when Postcode is blank, finds none or several. A value that someone entered is replaced.',
  ],
  [
    'values for child records',
    mapOf('customer', pairsOf('Size class', ['Large', 5]), [outputOf('amount')], 'Deals'),
    'On each of its deals, Amount becomes 5 for Size class Large. Left as it is when Size class is blank or anything else.',
  ],
  ['nothing yet', ruleOf('deal', 'derive', { steps: [] }), 'It does nothing yet.'],
  [
    'a formula',
    ruleOf('deal', 'derive', setTo('cost', 'Amount / 2')),
    'Cost becomes Amount / 2. A value that someone entered is replaced.',
  ],
  [
    'a condition',
    ruleOf('deal', 'derive', setTo('cost', 'Amount / 2'), { condition: 'Amount > 100 and Stage = "Won"' }),
    'When Amount is above 100 and Stage is Won, Cost becomes Amount / 2. A value that someone entered is replaced.',
  ],
  [
    'fields that wake it',
    ruleOf('deal', 'derive', setTo('cost', 'Amount / 2'), { wakesOn: ['stage', 'amount'] }),
    'When Stage or Amount changes, Cost becomes Amount / 2. A value that someone entered is replaced.',
  ],
  [
    'both',
    ruleOf('deal', 'derive', setTo('cost', 'Amount / 2'), { wakesOn: ['stage'], condition: 'Amount > 100' }),
    'When Stage changes and Amount is above 100, Cost becomes Amount / 2. A value that someone entered is replaced.',
  ],
  ['who wins', ruleOf('deal', 'derive', setTo('cost', '1'), { winner: 'locked' }), 'Cost becomes 1. Locked.'],
  [
    'what comes last',
    ruleOf('deal', 'derive', setTo('cost', '1'), { winner: 'later', on: false }),
    'Cost becomes 1. What came last stays, the value entered or the rule’s. Switched off.',
  ],
  [
    'when it begins',
    ruleOf('deal', 'derive', setTo('cost', '1'), { winner: 'person', repeat: 'starts' }),
    'Cost becomes 1. A value that someone entered stays. Only when that begins to be so.',
  ],
  [
    'in every write',
    ruleOf('deal', 'derive', setTo('cost', '1'), { repeat: 'every', moments: ['creating', 'updating'] }),
    'Cost becomes 1. A value that someone entered is replaced. Only when a record is saved. Looked at in every write.',
  ],
  [
    'at no moment, nowhere',
    ruleOf('deal', 'derive', setTo('cost', '1'), { moments: [], entryPoints: [] }),
    'Cost becomes 1. A value that someone entered is replaced. At no moment. Through no entry point.',
  ],
  [
    'at one entry point',
    ruleOf('deal', 'derive', setTo('cost', '1'), { entryPoints: ['api', 'import'] }),
    'Cost becomes 1. A value that someone entered is replaced. Only through file import and API.',
  ],
  [
    'everywhere but one',
    ruleOf('deal', 'derive', setTo('cost', '1'), {
      entryPoints: ['form:full', 'form:short', 'import', 'api', 'bulk', 'conversion', 'rule'],
    }),
    'Cost becomes 1. A value that someone entered is replaced. Not through backfill.',
  ],
  [
    'a notice',
    ruleOf('deal', 'derive', setTo('cost', '1'), {
      notify: [{ channel: 'task', to: 'Customer.Name', subject: 'Call', body: '', dueInDays: 1 }],
    }),
    'Cost becomes 1. A task goes to Customer.Name: “Call”, due in 1 day. A value that someone entered is replaced.',
  ],
  [
    'bands',
    ruleOf('customer', 'categorize', {
      source: 'Open deal value',
      target: 'size',
      bands: [
        { to: 10, result: 'micro' },
        { from: 10, to: 50, result: 'small' },
        { from: 50, result: 'large' },
      ],
      blank: { do: 'clear' },
      outside: { do: 'leave' },
    }),
    'Size class follows from Open deal value: Micro below 10, Small from 10, Large from 50. Cleared when Open deal value is blank. Left as it is when Open deal value is anything else. A value that someone entered is replaced.',
  ],
  [
    'checks',
    ruleOf('deal', 'validate', {
      checks: [{ hold: 'must', formula: 'Amount > 0', message: 'No.', field: 'amount' }],
      required: ['title'],
    }),
    'It is not saved unless Amount is above 0: “No.” Title is required.',
  ],
  [
    'a value to begin with',
    ruleOf('deal', 'default', { target: 'amount', value: '5' }),
    'Amount starts as 5. Only while a form is being filled in, when a new record is saved and when an existing record is saved.',
  ],
];

const limit = (field: string, source: string, grid: readonly object[]): Rule =>
  ruleOf('customer', 'validate', { limits: [{ field, source, grid, otherwise: 'all', message: 'No.' }] });
cases.push(
  [
    'what is offered',
    limit('crops', 'Home country', [
      { value: 'Norway', allowed: ['Apple'] },
      { value: 'Spain', allowed: [] },
    ]),
    'Crops offers Apple for Home country Norway; nothing for Spain.',
  ],
  [
    'what is required, hidden and locked',
    ruleOf('deal', 'validate', { required: ['title', 'amount'], hidden: ['cost'], locked: ['stage'] }),
    'Title and Amount are required. Cost is hidden. Stage is locked.',
  ],
  [
    'options in groups',
    ruleOf('customer', 'categorize', {
      source: 'Size class',
      target: 'region',
      groups: [
        { values: ['Micro', 'Small'], result: 'South' },
        { values: ['Large'], result: 'North' },
      ],
      blank: { do: 'leave' },
      outside: { do: 'clear' },
    }),
    'Region follows from Size class: South for Micro or Small, North for Large. Left as it is when Size class is blank. Cleared when Size class is anything else. A value that someone entered is replaced.',
  ],
  [
    'bands of days',
    ruleOf('customer', 'categorize', {
      source: 'Reviewed on',
      target: 'size',

      bands: [
        { to: '2026-01-01', result: 'micro' },
        { from: '2026-01-01', result: 'large' },
      ],
      blank: { do: 'leave' },
      outside: { do: 'leave' },
    }),
    'Size class follows from Reviewed on: Micro before 2026-01-01, Large from 2026-01-01. Left as it is when Reviewed on is blank or anything else. A value that someone entered is replaced.',
  ],
);

cases.push(
  [
    'yes and no, and nothing',
    mapOf('customer', pairsOf('Home country', ['Spain', true], ['Chile', false]), [outputOf('stop')]),
    'Credit stop becomes yes for Home country Spain; no for Chile. Left as it is when Home country is blank or anything else. A value that someone entered is replaced.',
  ],
  [
    'a table that is gone',
    mapOf('customer', { by: 'table', table: 'gone', keys: { a: 'Home country', b: '' } }, [
      outputOf('region', 'x'),
      outputOf('crops', 'y', 'add'),
      outputOf('currency', 'z'),
    ]),
    'Region and Currency come from gone, looked up by Home country and nothing yet. Crops gains what is in gone, looked up by Home country and nothing yet. Left as it is when the key is blank, has no row or several. A value that someone entered is replaced.',
  ],
  [
    'a record type that is gone, and a formula of the match',
    mapOf('deal', { by: 'match', recordType: 'gone', ways: [{ field: 'x', formula: 'Title', mode: 'exact' }] }, [
      outputOf('title', '"no " + match.X'),
      outputOf('gone', 'match.Name'),
    ]),
    'Title becomes "no " + match.X of the gone whose x is Title. Gone becomes the Name of the gone whose x is Title. Left as it is when Title is blank, finds none or several. A value that someone entered is replaced.',
  ],
  [
    'values for children',
    mapOf('customer', pairsOf('Home country', ['Spain', 'x']), [outputOf('firm')], 'Contacts'),
    'On each of its contacts, Firm as given becomes x for Home country Spain. Left as it is when Home country is blank or anything else.',
  ],
  [
    'values for nobody known',
    mapOf('customer', pairsOf('Home country', ['Spain', ['a', 'b']]), [outputOf('firm')], 'Nobodies'),
    'On each of its nobodies, firm becomes a and b for Home country Spain. Left as it is when Home country is blank or anything else.',
  ],
  ['no output yet', mapOf('customer', { by: 'pairs', formula: '', pairs: [] }, []), 'It does nothing yet.'],
  [
    'a template, and fields that are left',
    ruleOf('contact', 'derive', {
      steps: [
        { target: 'firm', scratch: '', formula: '', template: 'To {Last name}', blank: 'leave' },
        { target: 'last', scratch: '', formula: 'First name', blank: 'leave' },
      ],
    }),
    'Firm as given becomes “To {Last name}”; then Last name becomes First name. Firm as given and Last name are left as they are where that is blank. A value that someone entered is replaced.',
  ],
  [
    'one of two that is left, and a list added to',
    ruleOf('customer', 'derive', {
      steps: [
        { target: '', scratch: 'all', formula: 'Crops', blank: 'clear' },
        { target: 'crops', scratch: '', formula: 'all', blank: 'leave', way: 'add' },
      ],
    }),
    'All becomes Crops; then Crops gains all. Crops is left as it is where that is blank. A value that someone entered is replaced.',
  ],
  [
    'bands of days, open at both ends',
    ruleOf('customer', 'categorize', {
      source: 'Reviewed on',
      target: 'size',
      bands: [
        { to: '2026-01-01', toClosed: true, result: 'micro' },
        { from: '2026-01-01', fromOpen: true, to: '2027-01-01', result: 'small' },
        { from: '2027-02-01', result: 'large' },
      ],
      blank: { do: 'leave' },
      outside: { do: 'set', value: 'micro' },
    }),
    'Size class follows from Reviewed on: Micro up to 2026-01-01, Small after 2026-01-01, before 2027-01-01, Large from 2027-02-01. Left as it is when Reviewed on is blank. Set to Micro when Reviewed on is anything else. A value that someone entered is replaced.',
  ],
  [
    'bands that meet with the boundary below',
    ruleOf('customer', 'categorize', {
      source: 'Open deal value',
      target: 'gone',
      bands: [
        { from: 0, to: 5, toClosed: true, result: 1 },
        { from: 5, fromOpen: true, to: 9, toClosed: true, result: 2 },
        { from: 9, fromOpen: true, result: 3 },
      ],
      blank: { do: 'clear' },
      outside: { do: 'clear' },
    }),
    'Gone follows from Open deal value: 1 from 0, 2 above 5, 3 above 9. Cleared when Open deal value is blank or anything else. A value that someone entered is replaced.',
  ],
  [
    'groups',
    ruleOf('customer', 'categorize', {
      source: 'Home country',
      target: 'region',
      groups: [
        { values: ['Spain', 'Chile'], result: 'south' },
        { values: ['Norway'], result: 'north' },
      ],
      blank: { do: 'leave' },
      outside: { do: 'leave' },
    }),
    'Region follows from Home country: South for Spain or Chile, North for Norway. Left as it is when Home country is blank or anything else. A value that someone entered is replaced.',
  ],
  [
    'nothing on offer',
    ruleOf('customer', 'validate', {
      limits: [
        {
          field: 'region',
          source: 'Home country',
          grid: [
            { value: 'Spain', allowed: [] },
            { value: 'Chile', allowed: ['south', 'gone'] },
          ],
          otherwise: 'stop',
          message: '',
        },
        { field: 'gone', source: 'X', grid: [{ value: 'Y', allowed: ['z'] }], otherwise: 'stop', message: '' },
      ],
    }),
    'Region offers nothing for Home country Spain; South and gone for Chile. Gone offers z for X Y.',
  ],
);

describe('a rule read aloud', () => {
  it.each(cases)('says %s', (_, rule, sentence) => {
    expect(say(rule)).toBe(sentence);
  });
});
