import { expect, it } from 'vitest';
import { optionList } from './option-list.ts';

const options = ['Enquiry', 'Won', 'Withdrawn'].map((name) => ({ key: name, name, outside: name === 'Withdrawn' }));

it.each([
  ['a list', { options }, 'Enquiry, Won, Withdrawn'],
  ['in their order, those outside it behind', { options, ordered: true }, 'Enquiry < Won; outside the order Withdrawn'],
  ['all in the order', { options: options.slice(0, 2), ordered: true }, 'Enquiry < Won'],
])('options stand as %s', (_, field, said) => {
  expect(optionList(field)).toBe(said);
});
