/** Cells in text: the unary tests of DMN, and what spreadsheets hold. */
import { describe, expect, it } from 'vitest';
import type { Cell } from '../document/document.ts';
import {
  cellFromSheet,
  cellToSheet,
  keyCellFromFeel,
  keyCellToFeel,
  outputCellFromFeel,
  outputCellToFeel,
  type SheetColumn,
} from './cell-text.ts';
import { columnTypeOf } from '../language/field-types/column-types.ts';

// OMG DMN 1.3, 7.3.5 and 10.3.1.2 (unary tests).
describe('a key cell of DMN', () => {
  it.each<[string, Cell | 'tests']>([
    ['', null],
    [' - ', null],
    ['null', { blank: true }],
    ['"Fen"', 'Fen'],
    ['"Fen", "Moor"', ['Fen', 'Moor']],
    ['true', true],
    ['3', 3],
    ['date("2026-05-03")', '2026-05-03'],
    ['@"2026-05-03"', '2026-05-03'],
    ['< 5', { to: 5 }],
    ['<= 5', { to: 5, toClosed: true }],
    ['> 5', { from: 5, fromOpen: true }],
    ['>= 5', { from: 5 }],
    ['[1..5]', { from: 1, to: 5, toClosed: true }],
    ['(1..5)', { from: 1, fromOpen: true, to: 5 }],
    ['([1..5])', { from: 1, to: 5, toClosed: true }],
    // What is more than values and ranges stays as it is.
    ['date("nonsense")', 'tests'],
    ['time("12:00:00")', 'tests'],
    ['not(5)', 'tests'],
    ['[1..null]', 'tests'],
    ['> null', 'tests'],
    ['> 1 + 1', 'tests'],
    ['!= 5', 'tests'],
    ['null, 3', 'tests'],
    ['1 + 1', 'tests'],
    ['[1..2], 5', 'tests'],
  ])('%s', (text, cell) => {
    expect(keyCellFromFeel(text)).toEqual({ cell: cell === 'tests' ? { tests: text } : cell });
  });
  it('is told where it cannot be read', () => {
    expect([keyCellFromFeel('< <'), outputCellFromFeel('(')]).toEqual([
      { problem: expect.stringMatching(/\w/) },
      { problem: expect.stringMatching(/\w/) },
    ]);
  });
  const write = columnTypeOf('text').toFeel;
  it.each<[Cell | undefined, string, string]>([
    [undefined, '-', 'null'],
    [null, '-', 'null'],
    [{ blank: true }, 'null', 'null'],
    [{ tests: '> 3' }, '> 3', 'null'],
    [['a', 'b'], '"a", "b"', '["a", "b"]'],
    ['a', '"a"', '"a"'],
  ])('%j is written', (cell, key, output) => {
    expect([keyCellToFeel(cell, write), outputCellToFeel(cell, write)]).toEqual([key, output]);
  });
});

it.each<[string, Cell | undefined]>([
  ['', null],
  ['null', null],
  ['[1, 2]', [1, 2]],
  ['"x"', 'x'],
  ['[1, null]', undefined],
  ['[1, 1 + 1]', undefined],
  ['1 + 1', undefined],
])('an output of DMN: %s', (text, cell) => {
  expect(outputCellFromFeel(text)).toEqual(
    cell === undefined ? { problem: 'An output has to be a value that stands in the cell.' } : { cell },
  );
});

describe('a cell of a spreadsheet', () => {
  const sheet = (more: Partial<SheetColumn> = {}): SheetColumn => ({
    column: { key: 'k', name: 'K' },
    type: 'text',
    isKey: true,
    isList: false,
    ...more,
  });
  it.each<[string, Partial<SheetColumn>, Cell]>([
    ['-', {}, null],
    ['-', { isKey: false }, '-'],
    ['(blank)', {}, { blank: true }],
    ['(BLANK)', {}, { blank: true }],
    ['(tests)  > 3', {}, { tests: '> 3' }],
    ['(value) ["a"]', {}, ['a']],
    ['Fen; Moor', {}, ['Fen', 'Moor']],
    ['Fen;', {}, ['Fen']],
    ['Fen; Moor', { isKey: false }, 'Fen; Moor'],
    ['Fen; Moor', { isKey: false, isList: true }, ['Fen', 'Moor']],
    ['"a; b"', {}, 'a; b'],
    ['< 5', { type: 'number' }, { to: 5 }],
    ['[1..5)', { type: 'number' }, { from: 1, to: 5 }],
  ])('%s in %j', (text, more, cell) => {
    expect(cellFromSheet(text, sheet(more))).toEqual({ cell });
    expect(cellFromSheet(cellToSheet(cell, sheet(more)), sheet(more))).toEqual({ cell });
  });
  it.each<[string, Partial<SheetColumn>, RegExp]>([
    ['many', { type: 'number' }, /^many is not a number$/],
    ['[1..', { type: 'number' }, /not a number/],
    ['[1..2 3]', { type: 'number' }, /\w/],
    ['(value) {"colour": 1}', {}, /^cannot stand in a cell$/],
    ['(value) nonsense', {}, /^cannot stand in a cell$/],
  ])('%s in %j is told', (text, more, problem) => {
    expect(cellFromSheet(text, sheet(more))).toEqual({ problem: expect.stringMatching(problem) });
  });
});
