/** A mapping table as a sheet: what is in sight, chosen, written, copied, pasted and tried out. */
import {
  editPartBody,
  type MappingTable,
  type Operation,
  type Rulebook,
  type TableColumn,
} from '@rigid-rule/core/document';
import { planImport } from '@rigid-rule/core/formats';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { blockOf, choiceOf, chosenTo, firstCell, placesIn, wholeSheet, type Block } from './cell-choice.ts';
import { copied, filledDown, filledTo, filledWith, writing, type Sheet } from './cell-edits.ts';
import { namedRows, wrongCells } from './row-marks.ts';
import { readClipboard } from './sheet-files.ts';
import { rowsInSight, SheetTexts, type Row } from './sheet-view.ts';
import { writtenForm } from '$lib/locale.ts';
import {
  areHeadings,
  bothWays,
  leftOver,
  neutralLines,
  pasted,
  plannedTable,
  takingOver,
  withCorrection,
  withPlannedKey,
  type Preview,
} from './try-out.ts';
import { writtenAs, type Written } from '$lib/written-lines.ts';

const field = (key: string, name: string, type: string, more: object = {}) => ({ key, name, type, ...more });
const book = {
  zone: 'UTC',
  currency: 'EUR',
  recordTypes: [
    {
      key: 'site',
      name: 'Site',
      plural: 'Sites',
      forms: [],
      fields: [
        field('town', 'Town', 'text'),
        field('trees', 'Trees', 'number'),
        field('soil', 'Soil', 'picklist', {
          options: [
            { key: 'clay', name: 'Clay' },
            { key: 'sand', name: 'Sand' },
          ],
        }),
      ],
    },
  ],
  rules: [],
} as unknown as Rulebook;

const tableOf = (rows: readonly Row[]): MappingTable => ({
  key: 't',
  name: 'T',
  purpose: '',
  hitPolicy: 'unique',
  keys: [{ key: 'town', name: 'Town', field: 'site.town' }],
  outputs: [
    { key: 'trees', name: 'Trees', field: 'site.trees' },
    { key: 'soil', name: 'Soil', field: 'site.soil' },
  ],
  rows,
});
const rows: readonly Row[] = [
  { town: 'Brenn', trees: 90, soil: 'Clay' },
  { town: 'Aske', trees: 1200, soil: 'Sand' },
  { town: 'Corl', trees: 90 },
];
const sheetOf = (table: MappingTable, view = table.rows.map((_, i) => i)): Sheet => ({
  rows: table.rows,
  texts: new SheetTexts(table, book),
  view,
});
const after = (table: MappingTable, operations: readonly Operation[]): MappingTable =>
  operations.length === 0 ? table : (editPartBody(table, operations).body as MappingTable);
const block = (top: number, bottom: number, left: number, right: number): Block => ({ top, bottom, left, right });

describe('rows in sight', () => {
  it.each<[string, string, { column: string; descending: boolean } | undefined, number[], number[]]>([
    ['all as they stand', '', undefined, [], [0, 1, 2]],
    ['those that hold a text, in whatever case', ' SAND ', undefined, [], [1]],
    ['none where none holds it', 'peat', undefined, [], []],
    ['numbers by size, equal ones as they stand', '', { column: 'trees', descending: false }, [], [0, 2, 1]],
    ['the other way round, equal ones as they stand', '', { column: 'trees', descending: true }, [], [1, 0, 2]],
    ['texts by letters', '', { column: 'town', descending: true }, [], [2, 0, 1]],
    ['empty cells first', '', { column: 'soil', descending: false }, [], [2, 0, 1]],
    ['by how many samples meet them', '', { column: 'seen', descending: true }, [3, 0, 7], [2, 0, 1]],
    ['a column that is gone sorts nothing', '', { column: 'gone', descending: true }, [], [0, 1, 2]],
  ])('%s', (_, filter, sorting, hits, view) => {
    expect(rowsInSight(rows, new SheetTexts(tableOf(rows), book), filter, sorting, hits)).toEqual(view);
  });
});

describe('a choice of cells', () => {
  const size = { lines: 3, columns: 2 };
  it('moves within the sheet, extends from where it began, and is a block whichever way it goes', () => {
    const there = chosenTo(firstCell, { line: 9, column: 9 }, false, size);
    expect(there).toEqual({ anchor: { line: 2, column: 1 }, head: { line: 2, column: 1 } });
    const back = chosenTo(there, { line: 1, column: -4 }, true, size);
    expect(blockOf(back, size)).toEqual(block(1, 2, 0, 1));
    expect(placesIn(blockOf(back, size))).toHaveLength(4);
  });
  it('is the whole sheet, no cell of an empty one, and ends with the lines that are left in sight', () => {
    expect(blockOf(wholeSheet(size), size)).toEqual(block(0, 2, 0, 1));
    expect(placesIn(blockOf(firstCell, { lines: 0, columns: 2 }))).toEqual([]);
    expect(blockOf(choiceOf(block(0, 2, 0, 0)), { lines: 2, columns: 2 }).bottom).toBe(1);
  });
});

describe('texts written into cells', () => {
  it.each<[string, number, number, string, Operation[]]>([
    ['are read by their column', 0, 1, '1,500', [{ op: 'add', path: '/rows/0/trees', value: 1500 }]],
    ['name options', 0, 2, 'Sand', [{ op: 'add', path: '/rows/0/soil', value: 'Sand' }]],
    [
      'stay as they are where the column cannot read them',
      0,
      1,
      ' many ',
      [{ op: 'add', path: '/rows/0/trees', value: 'many' }],
    ],
    ['that are there already change nothing', 1, 0, 'Aske', []],
    ['take a cell out where they are empty', 1, 2, '', [{ op: 'remove', path: '/rows/1/soil' }]],
    ['leave an empty cell empty', 2, 2, ' ', []],
    ['outside the table are left out', 7, 0, 'x', []],
    ['beside the table are left out', 0, 9, 'x', []],
  ])('%s', (_, row, column, text, operations) => {
    expect(writing(sheetOf(tableOf(rows)), [{ row, column, text }])).toEqual(operations);
  });

  it('come to the same row by row as cell by cell, when they are many', () => {
    const table = tableOf(Array.from({ length: 500 }, (_, i) => ({ town: `T${i}`, trees: i })));
    const sheet = sheetOf(table);
    const cells = filledWith(sheet, block(0, 499, 1, 1), '7');
    const one = cells.reduce((t, cell) => after(t, writing(sheetOf(t), [cell])), table);
    expect(after(table, writing(sheet, cells))).toEqual(one);
  });
});

describe('filling', () => {
  const table = tableOf(rows);
  const sheet = sheetOf(table, [2, 0, 1]);
  it.each<[string, ReturnType<typeof filledDown>, [number, string][]]>([
    [
      'down gives the first line to those below',
      filledDown(sheet, block(0, 2, 0, 0)),
      [
        [2, 'Corl'],
        [0, 'Corl'],
        [1, 'Corl'],
      ],
    ],
    ['down with one line takes the one above', filledDown(sheet, block(1, 1, 0, 0)), [[0, 'Corl']]],
    ['down on the first line has nothing above', filledDown(sheet, block(0, 0, 0, 0)), []],
    [
      'on repeats the block',
      filledTo(sheet, block(0, 0, 0, 0), 9),
      [
        [0, 'Corl'],
        [1, 'Corl'],
      ],
    ],
    ['on repeats two lines in turn', filledTo(sheet, block(0, 1, 0, 0), 2), [[1, 'Corl']]],
    ['on to within the block changes nothing', filledTo(sheet, block(0, 2, 0, 0), 1), []],
  ])('%s', (_, cells, expected) => {
    expect(cells.map((c) => [c.row, c.text])).toEqual(expected);
  });
});

describe('what is copied', () => {
  const headings = (line: readonly string[]) => areHeadings(line, tableOf(rows));

  it('reads the same where it is pasted, whatever it holds', () => {
    const text = fc.string({
      unit: fc.constantFrom('a', ' ', '"', '\t', '\n', '\r', ',', ';', 'é', '$&'),
      maxLength: 6,
    });
    fc.assert(
      fc.property(fc.array(text, { minLength: 1, maxLength: 4 }), fc.constantFrom(0, 1), (towns, right) => {
        const table = tableOf([
          ...towns.map((town): Row => (town === '' ? {} : { town: `x${town}x` })),
          ...towns.map((_, i): Row => ({ town: `free ${i}` })),
        ]);
        const sheet = sheetOf(table);
        const clipboard = copied(sheet, block(0, towns.length - 1, 0, right));
        expect(clipboard).not.toBe('');
        const columns = sheet.texts.columns.slice(0, right + 1);
        const lines = towns.map((_, i) => columns.map((column) => sheet.texts.show(table.rows[i], column)));
        expect(readClipboard(clipboard, headings)).toMatchObject({ lines });
      }),
    );
  });

  it.each<[string, string, string[][]]>([
    ['a cell of several values', 'Olives, Citrus, Grapes', [['Olives, Citrus, Grapes']]],
    ['a column of a spreadsheet', 'Doe, A\r\n\r\nRoe; B\r\n', [['Doe, A'], [''], ['Roe; B']]],
    ['a blank cell of a spreadsheet', '\r\n', [['']]],
    ['nothing', '', []],
    [
      'lines of CSV with headings',
      'town,soil\nDorn,Clay\n\n',
      [
        ['town', 'soil'],
        ['Dorn', 'Clay'],
      ],
    ],
    ['lines of CSV with other headings', 'Doe, soil\nx, y', [['Doe, soil'], ['x, y']]],
  ])('%s', (_, text, lines) => expect(readClipboard(text, headings)).toMatchObject({ lines }));
});

const paste = (lines: readonly (readonly string[])[], at: Block, table = tableOf(rows)) =>
  pasted(lines, table, sheetOf(table), at, book.recordTypes);

describe('pasting', () => {
  it.each<[string, string[][], Block, object | undefined]>([
    ['nothing', [], block(0, 0, 0, 0), undefined],
    [
      'one value goes into every chosen cell',
      [['9']],
      block(0, 1, 1, 1),
      {
        cells: [
          { row: 0, column: 1, text: '9' },
          { row: 1, column: 1, text: '9' },
        ],
        block: block(0, 1, 1, 1),
      },
    ],
    [
      'a block of values goes where the choice is',
      [
        ['1', 'clay'],
        ['2', 'sand'],
      ],
      block(1, 1, 1, 1),
      { block: block(1, 2, 1, 2) },
    ],
    [
      'a blank line in place clears a cell, and moves none',
      [['9'], [''], ['8']],
      block(0, 0, 1, 1),
      {
        cells: [
          { row: 0, column: 1, text: '9' },
          { row: 1, column: 1, text: '' },
          { row: 2, column: 1, text: '8' },
        ],
      },
    ],
    [
      'a blank line that is tried out says nothing',
      [
        ['Dorn', '5'],
        ['', ''],
        ['Elm', '6'],
      ],
      block(0, 0, 0, 0),
      {
        preview: {
          lines: [
            ['Town', 'Trees'],
            ['Dorn', '5'],
            ['Elm', '6'],
          ],
        },
      },
    ],
    ['values beyond the last column are left out', [['clay', 'x']], block(0, 0, 2, 2), { block: block(0, 0, 2, 2) }],
    [
      'more lines than there are below are tried out',
      [['1'], ['2']],
      block(2, 2, 1, 1),
      { preview: { lines: [['Trees'], ['1'], ['2']] } },
    ],
    [
      'lines with keys are tried out',
      [['Dorn', '5']],
      block(0, 0, 0, 0),
      {
        preview: {
          lines: [
            ['Town', 'Trees'],
            ['Dorn', '5'],
          ],
        },
      },
    ],
    [
      'lines with headings are tried out as they are',
      [
        ['Soil', 'Town'],
        ['Clay', 'Dorn'],
      ],
      block(1, 1, 1, 1),
      {
        preview: {
          lines: [
            ['Soil', 'Town'],
            ['Clay', 'Dorn'],
          ],
          rest: 'keep',
        },
      },
    ],
  ])('%s', (_, lines, at, expected) => {
    if (expected) expect(paste(lines, at)).toMatchObject(expected);
    else expect(paste(lines, at)).toBeUndefined();
  });

  it('into an untouched table says its columns; there is always a key and an output', () => {
    const untouched: MappingTable = {
      ...tableOf([]),
      keys: [{ key: 'key', name: 'Key' }],
      outputs: [{ key: 'value', name: 'Value' }],
    };
    const found = paste(
      [
        ['Town', 'Soil'],
        ['Dorn', 'Clay'],
      ],
      block(0, -1, 0, 0),
      untouched,
    ) as { preview: Preview };
    const both = withPlannedKey(found.preview, 1, true);
    expect(both).toBe(found.preview);
    const turned = withPlannedKey(
      { ...found.preview, columns: found.preview.columns!.map((c) => ({ ...c, isKey: !c.isKey })) },
      0,
      false,
    );
    expect(plannedTable(untouched, turned).keys.map((c) => c.name)).toEqual(['Soil']);
    const plan = planImport(plannedTable(untouched, found.preview), book, found.preview.lines, 'keep');
    const made = after(untouched, takingOver(untouched, found.preview, plan));
    expect([made.keys[0]?.field, made.outputs[0]?.field, made.rows]).toEqual([
      'site.town',
      'site.soil',
      [{ town: 'Dorn', soil: 'Clay' }],
    ]);
  });
});

describe('what is tried out', () => {
  const table = tableOf(rows);
  const preview: Preview = {
    from: 'a file',
    lines: [
      ['Town', 'Soil'],
      ['Dorn', 'Kley'],
      ['Elm', 'Sand'],
      ['Fenn', 'Snad'],
    ],
    numbers: [1, 4, 6, 9],
    rest: 'keep',
  };
  const planOf = (p: Preview) => planImport(table, book, p.lines, p.rest, p.numbers);
  it('leaves the lines in sight that were refused, by their numbers in the file, until they are right', () => {
    const left = leftOver(preview, planOf(preview))!;
    expect(left).toMatchObject({
      leftOver: true,
      numbers: [1, 4, 9],
      lines: [
        ['Town', 'Soil'],
        ['Dorn', 'Kley'],
        ['Fenn', 'Snad'],
      ],
    });
    const corrected = withCorrection(left, table, { line: 4, column: 'soil', from: 'Kley', to: 'Clay' });
    expect(corrected.lines[1]).toEqual(['Dorn', 'Clay']);
    const named = withCorrection(corrected, table, { line: 9, column: 'soil', from: 'Snad', to: 'Sand' });
    expect(leftOver(named, planOf(named))).toBeUndefined();
  });
  it('takes a correction as it is, whatever signs it holds', () => {
    expect(withCorrection(preview, table, { line: 4, column: 'soil', from: 'Kley', to: '$& $1' }).lines[1]).toEqual([
      'Dorn',
      '$& $1',
    ]);
  });
});

describe('marks', () => {
  it('name wrong cells by row and column', () => {
    const found = wrongCells([
      { path: '/rows/1/trees', message: 'no number' },
      { path: '/keys/0', message: 'x' },
      { message: 'y' },
    ]);
    expect([...found]).toEqual([['1/trees', 'no number']]);
  });
  it('name every row of a key that stands twice, and no row of a part that does not compile', () => {
    const finding = (kind: string, path: string) =>
      ({ kind, path, key: path }) as unknown as Parameters<typeof namedRows>[0][number];
    const table = tableOf([{ town: 'Aske' }, { town: 'Brenn' }, { town: 'Aske', trees: 3 }]);
    const twice = finding('table-key-twice', '/rows/2');
    const named = namedRows([twice, finding('does-not-compile', '/rows/1'), finding('table-gap', '/keys')], table);
    expect([...named.keys()].sort()).toEqual([0, 2]);
  });
});

describe('numbers as an organisation writes them', () => {
  const german = new SheetTexts(tableOf(rows), book, writtenForm({ tag: 'de', currency: 'EUR' }));
  const [town, trees] = german.columns as [TableColumn, TableColumn];

  it.each<[string, TableColumn, unknown]>([
    ['1.234', trees, 1234],
    ['1.234,5', trees, 1234.5],
    ['0,15', trees, 0.15],
    ['1234.5', trees, 1234.5],
    ['1.234', town, '1.234'],
    ['many', trees, 'many'],
  ])('%s is typed', (text, column, cell) => expect(german.read(text, column)).toEqual(cell));

  it('what is shown is read back, in every way of writing', () => {
    const number = fc.double({ noNaN: true, noDefaultInfinity: true }).map((n) => Number(n.toPrecision(12)) + 0);
    const list = tableOf([]);
    const key: TableColumn = { key: 'n', name: 'N', type: 'number' };
    const table = { ...list, keys: [key] };
    fc.assert(
      fc.property(fc.constantFrom('en-GB', 'de', 'fr', 'de-CH', 'en-IN', 'ar-EG'), number, number, (tag, a, b) => {
        const texts = new SheetTexts(table, book, writtenForm({ tag, currency: 'EUR' }));
        for (const cell of [a, [a, b], [a], { from: 1, to: 2.5 }, { blank: true }] as const)
          expect(texts.read(texts.show({ n: cell } as never, key), key)).toEqual(cell);
      }),
    );
  });

  it.each<[string, readonly string[], Written | undefined, readonly unknown[]]>([
    ['whole numbers', ['7', '1234'], undefined, [7, 1234]],
    ['by a program', ['1234.5', '1.234'], 'neutral', [1234.5, 1.234]],
    ['by people', ['1.234', '0,5'], 'own', [1234, 0.5]],
    ['nobody can tell', ['1.234', 'many'], 'neutral', [1.234, 'many']],
  ])('a file is read as it is written: %s', (_, numbers, written, cells) => {
    const lines = [['Town', 'Trees'], ...numbers.map((n) => ['Dorl', n])];
    const preview: Preview = { from: 'a file', lines, rest: 'keep', isText: true };
    expect(writtenAs(bothWays(preview, german))).toBe(written);
    const read = neutralLines(preview, written ?? 'neutral', german).slice(1);
    expect(read.map(([, text]) => new SheetTexts(tableOf(rows), book).read(text!, trees))).toEqual(cells);
  });

  it('a paste is tried out with the numbers that were meant', () => {
    const lines = [
      ['Town', 'Trees'],
      ['Dorl', '1.234'],
      ['Egge', '0,5'],
    ];
    const found = pasted(
      lines,
      tableOf(rows),
      { ...sheetOf(tableOf(rows)), texts: german },
      block(0, 0, 0, 0),
      book.recordTypes,
    );
    expect(found).toMatchObject({
      preview: {
        lines: [
          ['Town', 'Trees'],
          ['Dorl', '1234'],
          ['Egge', '0.5'],
        ],
      },
    });
  });
});
