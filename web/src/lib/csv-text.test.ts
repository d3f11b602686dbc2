import { expect, it } from 'vitest';
import { csvText, storedCell } from './csv-text.ts';

it('numbers below zero are numbers, and what a spreadsheet would run is text', () => {
  const cells = [-5, '-5', '+1.5e3', '=1+1', '-3 rows', '@x', ['a', 'b'], null, true].map(storedCell);
  expect(csvText([cells])).toBe(`-5,-5,+1.5e3,"'=1+1","'-3 rows","'@x",a;b,,true\r\n`);
});
