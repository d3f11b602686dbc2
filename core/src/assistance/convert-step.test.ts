import { describe, expect, it } from 'vitest';
import { createScope } from '../language/expression/scope.ts';
import type { RecordType } from '../document/document.ts';
import { formulaOfTemplate, templateOfFormula } from './convert-step.ts';

const type: RecordType = {
  key: 'firm',
  name: 'Firm',
  plural: 'Firms',
  title: ['name'],
  forms: [],
  fields: [
    { key: 'name', name: 'Name', type: 'text' },
    { key: 'home', name: 'Home town', type: 'text' },
    { key: 'count', name: 'Count', type: 'number' },
    { key: 'kind', name: 'Kind', type: 'picklist', options: [{ key: 'a', name: 'A' }] },
  ],
};
const scope = createScope(type);

describe('a formula as a text with fields', () => {
  it.each([
    ['Name', '{Name}'],
    ['Name + ", " + Home town', '{Name}, {Home town}'],
    ['"Dear " + Name', 'Dear {Name}'],
    ['Name + " {" + string(Count) + "}"', '{Name} {{{Count}}}'],
    ['', ''],
    ['Count + Count', undefined],
    ['if Count > 1 then Name else Home town', undefined],
    ['upper case(Name)', undefined],
    ['Name +', undefined],
  ])('%s', (formula, template) => {
    expect(templateOfFormula(formula, scope)).toBe(template);
  });
});

describe('a text with fields as a formula', () => {
  it.each([
    ['{Name}', 'Name'],
    ['{Name}, {Home town}', 'Name + ", " + Home town'],
    ['No {Count} of {Kind}', '"No " + string(Count) + " of " + Kind'],
    ['{upper case(Name)}!', 'upper case(Name) + "!"'],
    ['{Count}', 'Count'],
    ['{Name', undefined],
    ['{Nothing such(}', undefined],
  ])('%s', (template, formula) => {
    expect(formulaOfTemplate(template, scope)).toBe(formula);
  });
});
