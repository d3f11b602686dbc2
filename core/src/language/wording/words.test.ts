import { describe, expect, it } from 'vitest';
import { sentenceWords } from './words.ts';
import { ruleSentence } from '../../compile/rule-kinds/sentence.ts';
import { dealBook } from '../../testing/deals.ts';
import type { RecordType, Rule } from '../../document/document.ts';

const type: RecordType = {
  key: 'deal',
  name: 'Deal',
  plural: 'Deals',
  title: ['name'],
  forms: [{ key: 'full', name: 'full form' }],
  fields: [
    { key: 'name', name: 'Name', type: 'text' },
    {
      key: 'stage',
      name: 'Stage',
      type: 'picklist',
      ordered: true,
      options: ['Surveyed', 'Proposal', 'Won'].map((n) => ({ key: n, name: n })),
    },
    { key: 'cost', name: 'Cost', type: 'money' },
    { key: 'discount', name: 'Discount', type: 'percent' },
    { key: 'area', name: 'Area', type: 'number' },
    { key: 'rush', name: 'Rush', type: 'yes/no' },
    { key: 'parent', name: 'Parent', type: 'lookup', recordType: 'deal' },
  ],
};
const words = sentenceWords(type, { ...dealBook([]), recordTypes: [type] });

describe('a condition reads as people say it', () => {
  it.each([
    [
      'moved back(Stage) and previous.Stage = "Proposal" and Stage = "Surveyed"',
      'Stage moves back from Proposal to Surveyed',
    ],
    ['moved back(Stage) and Stage = "Surveyed"', 'Stage moves back to Surveyed'],
    ['Stage = "Won" and has changed(Stage)', 'Stage changes to Won'],
    ['previous.Stage = "Won"', 'Stage before is Won'],
    ['Cost > 1250', 'Cost is above 1,250'],
    ['Discount <= 0.15 or Rush', 'Discount is at most 15 % or Rush is yes'],
    ['Area >= -12500.5', 'Area is at least −12,500.5'],
    ['Rush and (Area < 1 or Area > 2000)', 'Rush is yes and (Area is below 1 or Area is above 2,000)'],
    ['Stage in ("Won", "Proposal")', 'Stage is one of Won or Proposal'],
    ['Parent.Cost between 1 and 2', 'Parent.Cost is between 1 and 2'],
    ['Cost > Area * 2', 'Cost is above Area * 2'],
    ['string length(Name)  >\n 3', 'string length(Name) > 3'],
    ['is blank(Name)', 'Name is blank'],
    ['Cost >', 'Cost >'],
    ['has changed(Stage) or moved forward(Stage)', 'Stage changes or Stage moves forward'],
    ['not(is blank(Parent.Name)) and Parent.Rush = false', 'Parent.Name is filled and Parent.Rush is no'],
    ['Nobody.Nothing = 5', 'Nobody.Nothing is 5'],
    ['Name in ("a, b", "")', 'Name is one of “a, b” or “”'],
  ])('%s', (formula, said) => {
    expect(words.condition(formula)).toBe(said);
  });
});

describe('one written value reads as the value', () => {
  const field = (key: string) => type.fields.find((f) => f.key === key);
  it.each([
    ['750', 'cost', '750'],
    ['0.5', 'discount', '50 %'],
    ['"Won"', 'stage', 'Won'],
    ['-3', 'area', '−3'],
    ['null', 'name', 'blank'],
    ['@"2026-05-03"', undefined, '2026-05-03'],
    ['Area * 2', 'cost', 'Area * 2'],
    ['["a", "b"]', 'name', 'a, b'],
    ['[]', undefined, 'nothing'],
    ['[Area, 1]', undefined, '[Area, 1]'],
    ['-Area', 'area', '-Area'],
    ['true', undefined, 'yes'],
    ['false', 'rush', 'no'],
    ['" x"', undefined, '“ x”'],
    ['"plain"', undefined, 'plain'],
    ['1250000', undefined, '1,250,000'],
    ['today()', 'name', 'the present day'],
    ['now()', 'name', 'the present moment'],
    ['sum()', 'name', 'sum()'],
    ['previous.Stage', 'stage', 'what Stage was before'],
    ['origin.Name', 'name', 'the Name that it was made from'],
    ['user.email', 'name', 'the email of whoever writes'],
    ['user.phone', 'name', 'user.phone'],
    ['Parent.Parent.Cost', 'cost', 'Parent.Parent.Cost'],
  ])('%s for %s', (formula, key, said) => {
    expect(words.value(formula, key === undefined ? undefined : field(key))).toBe(said);
  });
});

it('a rule is read with its condition first, and what is unusual about it last', () => {
  const rule: Rule = {
    key: 'r',
    recordType: 'deal',
    name: 'r',
    purpose: '',
    kind: 'derive',
    on: true,
    position: 1,
    moments: ['updating'],
    entryPoints: [],
    repeat: 'wakes',
    winner: 'rule',
    condition: 'moved back(Stage) and previous.Stage = "Proposal" and Stage = "Surveyed"',
    outcome: { steps: [{ target: 'cost', scratch: '', formula: '750', blank: 'clear' }] },
  };
  expect(ruleSentence(rule, type)).toBe(
    'When Stage moves back from Proposal to Surveyed, Cost becomes 750. A value that someone entered is replaced. Only when an existing record is saved. Through no entry point.',
  );
});
