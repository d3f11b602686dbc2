/** Mapping tables out and in again: CSV as RFC 4180 has it, DMN XML. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Cell, MappingTable } from '../rulebook/document.ts';
import { countryTable, dealBook } from '../testing/deals.ts';
import { readCategorize } from '../rule-kinds/categorize.ts';
import { customerType, sizeClass } from '../testing/customers.ts';
import { bandsFromTable, bandsToTable } from './bands-table.ts';
import { keyCellFromFeel, keyCellToFeel } from './cell-text.ts';
import { tablesFromDmn, tablesToDmn } from './dmn.ts';
import { planImport, readCsv, tableToCsv } from './table-csv.ts';

const book = dealBook([]);
const ages: MappingTable = {
  key: 'ages',
  name: 'Ages',
  purpose: '',
  hitPolicy: 'first',
  keys: [
    { key: 'age', name: 'Age', type: 'number' },
    { key: 'kind', name: 'Kind' },
  ],
  outputs: [
    { key: 'rate', name: 'Rate', type: 'number' },
    { key: 'note', name: 'Note' },
  ],
  rows: [
    { age: { from: 18, to: 60 }, kind: ['a', 'b'], rate: 1.5, note: 'say "x", y' },
    { age: { from: 60, toClosed: true, to: 99 }, rate: 2 },
    { age: { blank: true }, kind: 'c', note: 'line\nbreak' },
    { age: { tests: 'not(5)' }, rate: 0 },
  ],
};

// RFC 4180, section 2: quotes doubled, fields with commas, quotes and line breaks quoted, CRLF, a header.
describe('CSV', () => {
  it('is written as the standard has it', () => {
    expect(tableToCsv(countryTable)).toBe(
      'Country,Table region,Table currency,Usual crops\r\nPortugal,South,EUR,Olive; Grape\r\nSpain,South,EUR,Olive\r\nNorway,North,NOK,\r\n',
    );
    expect(tableToCsv({ ...ages, rows: ages.rows.slice(0, 1) })).toContain('[18..60),a; b,1.5,"say ""x"", y"');
  });

  it('says row by row what it would change', () => {
    const { lines } = readCsv(
      '\ufeffCountry,Table region,Table currency,Colour\r\nPortugal,South,EUR,red\r\nSpain,Sout,EUR,\r\nChile,South,CLP,\r\nChile,South,CLP,\r\nPeru,South,PEN,\r\n',
    );
    const { plans, strangers, table } = planImport(countryTable, book, lines);
    expect(strangers).toEqual(['Colour']);
    expect(plans.map((p) => [p.what, p.line])).toEqual([
      ['same', 2],
      ['refused', 3],
      ['added', 4],
      ['refused', 5],
      ['refused', 6],
      ['dropped', undefined],
    ]);
    expect(plans.flatMap((p) => p.reasons).join(' ')).toMatch(
      /Sout is not an option of Region; did you mean South.*same key stands in line 4.*Peru is not an option/,
    );
    expect(table.rows).toHaveLength(2);
    expect(table.rows[0]!['crops']).toEqual(['Olive', 'Grape']);
  });

  it('comes back as it was', () => {
    const { lines, problems } = readCsv(tableToCsv(countryTable));
    expect(problems).toEqual([]);
    expect(planImport(countryTable, book, lines).plans.every((p) => p.what === 'same')).toBe(true);
  });

  it('a file whose quotes are not closed is refused in words', () => {
    expect(readCsv('a,b\r\n"x,y\r\n').problems.join()).toMatch(/^Line 2: Quoted field unterminated/);
  });
});

describe('DMN', () => {
  it('comes back as it was: columns, policy, every kind of cell', async () => {
    const read = await tablesFromDmn(
      await tablesToDmn('Both', [ages, { ...countryTable, hitPolicy: 'collect', aggregation: 'count' }]),
    );
    if ('problems' in read) throw new Error(read.problems.join());
    const [first, second] = read.tables;
    expect([first!.hitPolicy, first!.keys.map((c) => c.type), first!.rows]).toEqual([
      'first',
      ['number', undefined],
      ages.rows,
    ]);
    expect([second!.hitPolicy, second!.aggregation]).toEqual(['collect', 'count']);
  });

  it.each<[string, (xml: string) => string, RegExp]>([
    ['no XML', () => 'hello', /.+/],
    ['another document', () => '<a/>', /Definitions/],
    ['something unknown', (x) => x.replace('<dmn:rule id', '<dmn:zzz/><dmn:rule id'), /line/],
    [
      'an output that is no constant',
      (x) => x.replace('<dmn:text>1.5</dmn:text>', '<dmn:text>Age + 1</dmn:text>'),
      /Ages, row 1, Rate: An output has to be a value/,
    ],
    ['tests that do not parse', (x) => x.replace('[18..60)', '[18..'), /Ages, row 1, Age/],
    ['no table', (x) => x.replace(/<dmn:decisionTable[\s\S]*<\/dmn:decisionTable>/, ''), /no decision table/],
  ])('%s is an error with its place', async (_, change, problem) => {
    const read = await tablesFromDmn(change(await tablesToDmn('x', [ages])));
    expect('problems' in read && read.problems.join()).toMatch(problem);
  });

  it('bands of a rule go out and come back', async () => {
    const read = await tablesFromDmn(await tablesToDmn('x', [bandsToTable(sizeClass, customerType)]));
    if ('problems' in read) throw new Error(read.problems.join());
    const back = bandsFromTable(sizeClass, read.tables[0]!);
    if ('problems' in back) throw new Error(back.problems.join());
    expect(readCategorize(back.rule.outcome)).toEqual(readCategorize(sizeClass.outcome));
    expect(bandsFromTable(sizeClass, ages)).toEqual({ problems: ['Ages: bands have one key and one output.'] });
    expect('problems' in bandsFromTable(sizeClass, { ...read.tables[0]!, rows: [{ 'employee-count': 5 }] })).toBe(true);
  });

  it('cells and FEEL are one another’s inverse', () => {
    const value = fc.oneof(
      fc.string({ minLength: 1 }).filter((s) => s.trim() !== ''),
      fc.integer(),
      fc.boolean(),
    );
    const n = fc.integer({ min: -99, max: 99 });
    const cell: fc.Arbitrary<Cell> = fc.oneof(
      value,
      fc.array(value, { minLength: 2, maxLength: 4 }),
      fc.constant(null),
      fc.constant({ blank: true } as const),
      fc.record({ from: n, to: n }),
      n.map((from) => ({ from, fromOpen: true })),
      n.map((to) => ({ to, toClosed: true })),
    );
    fc.assert(
      fc.property(cell, (c) => {
        expect(keyCellFromFeel(keyCellToFeel(c, { key: 'k', name: 'K' }))).toEqual({ cell: c });
      }),
    );
  });
});
