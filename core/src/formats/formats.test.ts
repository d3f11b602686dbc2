/** Mapping tables out and in again: CSV as RFC 4180 has it, DMN XML. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Cell, CellValue, ColumnTypeKey, MappingTable, Rule } from '../document/document.ts';
import { countryTable, dealBook } from '../testing/deals.ts';
import { readCategorize } from '../compile/rule-kinds/categorize-outcome.ts';
import { customerType, sizeClass } from '../testing/customers.ts';
import { bandsFromTable, bandsToTable } from './bands-table.ts';
import { keyCellFromFeel, keyCellToFeel } from './cell-text.ts';
import { columnTypeOf } from '../language/field-types/column-types.ts';
import { tablesFromDmn, tablesToDmn } from './dmn.ts';
import { planImport, readCsv, tableToCsv } from './table-csv.ts';
import { dateOfDay, dateText } from '../values/calendar.ts';
import { runsOf } from '../testing/runs.ts';

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
    expect(tableToCsv(countryTable, book)).toBe(
      'Country,Table region,Table currency,Usual crops\r\nPortugal,South,EUR,Olive; Grape\r\nSpain,South,EUR,Olive\r\nNorway,North,NOK,\r\n',
    );
    expect(tableToCsv({ ...ages, rows: ages.rows.slice(0, 1) }, book)).toContain('[18..60),a; b,1.5,"say ""x"", y"');
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
    expect(table.rows.map((r) => r['country'])).toEqual(['Portugal', 'Spain', 'Chile']);
    expect(table.rows[0]!['crops']).toEqual(['Olive', 'Grape']);
  });

  it('comes back as it was', () => {
    const { lines, problems } = readCsv(tableToCsv(countryTable, book));
    expect(problems).toEqual([]);
    expect(planImport(countryTable, book, lines).plans.every((p) => p.what === 'same')).toBe(true);
  });

  const again = (table: MappingTable): MappingTable => {
    const { lines, numbers, problems } = readCsv(tableToCsv(table, book));
    expect(problems).toEqual([]);
    const { plans, table: now } = planImport(table, book, lines, 'drop', numbers);
    expect(plans.flatMap((p) => p.reasons)).toEqual([]);
    return now;
  };

  it.each<[string, Cell, string]>([
    ['a hyphen', '-', '"""-"""'],
    ['a semicolon', 'a;b', '"""a;b"""'],
    ['what looks like a blank', '(blank)', '"""(blank)"""'],
    ['what looks like a range', '[1..2]', '"""[1..2]"""'],
    ['spaces at its ends', ' a ', '""" a """'],
    ['quotation marks', '"a"', '"""\\""a\\"""""'],
    ['what a spreadsheet computes', '=1+1', '"""=1+1"""'],
    ['one of a list', ['a'], 'a;'],
    ['a list with a semicolon in it', ['a;b', 'c'], '"""a;b""; c"'],
    ['tests', { tests: 'not("a", "b")' }, '"(tests) not(""a"", ""b"")"'],
    ['a range of texts', { from: 'a', to: 'c' }, '"[""a""..""c"")"'],
    ['a number among texts', 5, '(value) 5'],
    ['blank', { blank: true }, '(blank)'],
  ])('%s stands in a key as it is stated', (_, cell, written) => {
    const table = { ...ages, rows: [{ kind: cell, rate: 1 }] };
    expect(tableToCsv(table, book)).toContain(`\r\n,${written},1,`);
    expect(again(table).rows).toEqual(table.rows);
  });

  it('whatever a table holds comes back from its file, and the file from that table', () => {
    const text = fc.oneof(
      fc.string({
        unit: fc.constantFrom('a', ';', ' ', '-', '"', '\\', '[', '.', '(', ')', '1', '\n', '=', '<', ',', '\t'),
        minLength: 1,
        maxLength: 8,
      }),
      fc.constantFrom('(blank)', '(tests) 1', '(value) 1', '[1..2]', '< 5', '-', 'yes', '1e3', '1,000'),
    );
    const number = fc.oneof(
      fc.integer(),
      fc.double({ noNaN: true, noDefaultInfinity: true }).filter((n) => !Object.is(n, -0)),
    );
    const tests = fc.constantFrom('not(5)', '< 3, > 9', 'not("a; b")', '? > 1').map((t) => ({ tests: t }));
    const key = (value: fc.Arbitrary<string | number>) =>
      fc.oneof(
        value,
        fc.array(value, { minLength: 1, maxLength: 3 }),
        fc.record(
          { from: value, to: value, fromOpen: fc.constant(true), toClosed: fc.constant(true) },
          { requiredKeys: ['from'] },
        ),
        fc.constant({ blank: true } as const),
        tests,
      );
    const row = fc.record({ age: key(number), kind: key(text), rate: number, note: text }, { requiredKeys: [] });
    fc.assert(
      fc.property(fc.array(row, { maxLength: 4 }), (rows) => {
        const table: MappingTable = { ...ages, rows: rows as MappingTable['rows'] };
        const csv = tableToCsv(table, book);
        const now = again(table);
        expect(now.rows).toEqual(rows.map((r) => ({ ...r })));
        expect(tableToCsv(now, book)).toBe(csv);
      }),
      { numRuns: runsOf(300) },
    );
  });

  it('lines are counted as an editor counts them, and a refused one keeps its row', () => {
    const { lines, numbers } = readCsv(
      'Country,Table region\r\n\r\nPortugal,"So\nuth"\r\n\r\nSpain,Suoth\r\nNorwey,North\r\n',
    );
    const { plans, table } = planImport(countryTable, book, lines, 'drop', numbers);
    expect(plans.map((p) => [p.what, p.line, p.before?.['country']])).toEqual([
      ['refused', 3, 'Portugal'],
      ['refused', 6, 'Spain'],
      ['refused', 7, 'Norway'],
    ]);
    expect(table.rows).toEqual(countryTable.rows);
  });

  it('rows of one key are told apart by what they say', () => {
    const collect: MappingTable = {
      ...ages,
      hitPolicy: 'collect',
      rows: [
        { age: 1, rate: 1 },
        { age: 1, rate: 2 },
        { age: 1, rate: 3 },
      ],
    };
    const plan = planImport(collect, book, [
      ['Age', 'Kind', 'Rate', 'Note'],
      ['1', '', '2', ''],
      ['1', '', '4', ''],
    ]);
    expect(plan.plans.map((p) => [p.what, p.row['rate'], p.before?.['rate']])).toEqual([
      ['same', 2, 2],
      ['changed', 4, 1],
      ['dropped', 3, undefined],
    ]);
  });

  it.each<[string, 'drop' | 'keep', string, readonly unknown[]]>([
    [
      'rows that the file has not stay, changed ones where they stand, new ones last',
      'keep',
      'Country,Table region,Table currency\nChile,South,CLP\nNorway,North,EUR\nSpain,Suoth,EUR\n',
      [
        ['Portugal', 'EUR'],
        ['Spain', 'EUR'],
        ['Norway', 'EUR'],
        ['Chile', 'CLP'],
      ],
    ],
    [
      'columns that the file has not keep what they have',
      'drop',
      'country,Table currency\nNorway,SEK\n',
      [['Norway', 'SEK', 'North']],
    ],
    ['a row without content says so', 'drop', 'Country,Table currency\n-,\n', [[undefined, undefined]]],
  ])('%s', (_, rest, csv, rows) => {
    const { table } = planImport(countryTable, book, readCsv(csv).lines, rest);
    expect(
      table.rows.map((r, i) => [r['country'], r['currency'], r['region']].slice(0, (rows[i] as []).length)),
    ).toEqual(rows);
  });

  it.each<[string, string, RegExp]>([
    ['a key column that is missing', 'Table currency\nEUR\n', /^The column Country is missing\.$/],
    [
      'a column that stands twice',
      'Country,country,Table currency\nSpain,Norway,EUR\n',
      /^The column Country stands twice\.$/,
    ],
    ['a cell that is none of its column', 'Country,Usual crops\nSpain,Olive; Pare\n', /Pare is not an option/],
    ['a moment that is none', 'Country,Usual crops\n"[1..",Olive\n', /^Country: /],
  ])('every row of a file is refused for %s', (_, csv, reason) => {
    const { plans } = planImport(countryTable, book, readCsv(csv).lines, 'keep');
    expect(plans.map((p) => [p.what, p.reasons.join(' ')])).toEqual([['refused', expect.stringMatching(reason)]]);
  });

  it('what was meant is offered in lists, too', () => {
    const { plans } = planImport(countryTable, book, readCsv('Country,Usual crops\nSpian,Olive;Grap\n').lines);
    const [plan] = plans;
    expect([plan?.corrections, plan?.before?.['country']]).toEqual([
      [
        { column: 'country', from: 'Spian', to: 'Spain' },
        { column: 'crops', from: 'Grap', to: 'Grape' },
      ],
      'Spain',
    ]);
  });

  it('a delimiter that is asked for is taken, whatever the first line shows', () => {
    expect(readCsv('a,b;c\n1,2;3\n', ';').lines).toEqual([
      ['a,b', 'c'],
      ['1,2', '3'],
    ]);
  });

  it('a file whose quotes are not closed is refused in words', () => {
    expect(readCsv('a,b\r\n"x,y\r\n').problems.join()).toMatch(/^Line 2: Quoted field unterminated/);
  });
});

describe('DMN', () => {
  it('comes back as it was: columns, policy, every kind of cell', async () => {
    const read = await tablesFromDmn(
      await tablesToDmn('Both', [ages, { ...countryTable, hitPolicy: 'collect', aggregation: 'count' }], book),
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
    const read = await tablesFromDmn(change(await tablesToDmn('x', [ages], book)));
    expect('problems' in read && read.problems.join()).toMatch(problem);
  });

  // DMN 1.3, 7.3.2 (typeRef names FEEL types) and 10.3.2.3.4 and on (date and time and duration by their functions); from memory.
  it.each<[type: string, field: string, cell: CellValue, typeRef: string, written: string]>([
    ['a number', 'deal.amount', 5, 'number', '5'],
    ['a day', 'customer.reviewed', '2026-05-03', 'date', 'date("2026-05-03")'],
    ['a moment', 'contact.answered', '2026-05-03T08:30:00Z', 'dateTime', 'date and time("2026-05-03T08:30:00Z")'],
    ['yes or no', 'customer.stop', true, 'boolean', 'true'],
    ['an option', 'customer.region', 'South', 'string', '"South"'],
  ])('%s of a field is written as DMN has it, and read back', async (_, field, cell, typeRef, written) => {
    const rows = [{ k: cell, o: cell }, { k: { from: cell, to: cell, toClosed: true } }, { k: [cell, cell] }] as const;
    const bound = { key: 't', name: 'T', purpose: '', hitPolicy: 'first' as const, rows };
    const table: MappingTable = {
      ...bound,
      keys: [{ key: 'k', name: 'K', field }],
      outputs: [{ key: 'o', name: 'O', field }],
    };
    const xml = await tablesToDmn('x', [table], book);
    expect(xml).toContain(`typeRef="${typeRef}"`);
    expect(xml).not.toContain(typeRef === 'string' ? 'typeRef="number"' : 'typeRef="string"');
    expect(
      xml
        .replaceAll('&#34;', '"')
        .replaceAll('&quot;', '"')
        .replace(/<!\[CDATA\[(.*?)\]\]>/g, '$1'),
    ).toContain(`>${written}<`);
    const read = await tablesFromDmn(xml, { table, book });
    if ('problems' in read) throw new Error(read.problems.join());
    expect(read.tables[0]!.rows).toEqual(rows);
    // Where no column says that its texts are moments, they stay what they are.
    expect(keyCellFromFeel(written)).toEqual({ cell: typeRef === 'dateTime' ? { tests: written } : cell });
  });

  const banded = (outcome: object): Rule => ({
    ...sizeClass,
    outcome: { ...(sizeClass.outcome as object), ...outcome },
  });
  const limits = fc.uniqueArray(fc.integer({ min: -40, max: 40 }), { minLength: 1, maxLength: 6 });
  const result = fc.constantFrom('micro', 'small', 7);
  /** Bands that meet, with or without an end on either side, of numbers or of days. */
  const someBands = fc
    .tuple(limits, fc.boolean(), fc.boolean(), fc.boolean(), fc.boolean(), result)
    .map(([at, below, above, closed, dates, given]) => {
      const stops = at.sort((a, b) => a - b).map((n) => (dates ? dateText(dateOfDay(20_000 + n)) : n));
      const between = stops.slice(1).map((to, i) => ({
        from: stops[i],
        ...(closed ? { fromOpen: true } : {}),
        to,
        ...(closed ? { toClosed: true } : {}),
        result: given,
      }));
      const first = { to: stops[0], ...(closed ? { toClosed: true } : {}), result: given };
      const last = { from: stops.at(-1), ...(closed ? { fromOpen: true } : {}), result: given };
      const bands = [...(below ? [first] : []), ...between, ...(above ? [last] : [])];
      return { bands: bands.length > 0 ? bands : [{ result: given }] };
    });
  const someGroups = fc
    .array(fc.tuple(fc.uniqueArray(fc.constantFrom('a', 'b c', '2026-01-01', '5'), { minLength: 1 }), result), {
      minLength: 1,
      maxLength: 3,
    })
    .map((all) => ({ bands: [], groups: all.map(([values, given]) => ({ values, result: given })) }));

  it('bands and groups of a rule go out and come back', async () => {
    await fc.assert(
      fc.asyncProperty(fc.oneof(someBands, someGroups), async (outcome) => {
        const rule = banded(outcome);
        const read = await tablesFromDmn(await tablesToDmn('x', [bandsToTable(rule, customerType)], book));
        if ('problems' in read) throw new Error(read.problems.join());
        const back = bandsFromTable(sizeClass, read.tables[0]!);
        if ('problems' in back) throw new Error(back.problems.join());
        expect(readCategorize(back.rule.outcome)).toEqual(readCategorize(rule.outcome));
      }),
      { numRuns: runsOf(60) },
    );
  });

  const bandsOf = (rows: MappingTable['rows'], type: ColumnTypeKey = 'number') =>
    bandsFromTable(sizeClass, {
      ...bandsToTable(sizeClass, customerType),
      keys: [{ key: 'k', name: 'K', type }],
      outputs: [{ key: 'o', name: 'O' }],
      rows,
    });
  it.each<[string, MappingTable['rows'], ColumnTypeKey, object]>([
    [
      'one value, and order by where they begin',
      [
        { k: { from: 5, fromOpen: true }, o: 'c' },
        { k: 5, o: 'b' },
        { k: { to: 5 }, o: 'a' },
      ],
      'number',
      {
        bands: [
          { to: 5, result: 'a' },
          { from: 5, to: 5, toClosed: true, result: 'b' },
          { from: 5, fromOpen: true, result: 'c' },
        ],
      },
    ],
    [
      'one day',
      [{ k: '2026-01-01', o: 1 }],
      'date',
      { bands: [{ from: '2026-01-01', to: '2026-01-01', toClosed: true, result: 1 }] },
    ],
    ['every value', [{ k: null, o: 'a' }], 'number', { bands: [{ result: 'a' }] }],
    ['one text', [{ k: 'x', o: 'a' }], 'text', { bands: [], groups: [{ values: ['x'], result: 'a' }] }],
  ])('rows come in as bands: %s', (_, rows, type, outcome) => {
    const back = bandsOf(rows, type);
    expect('rule' in back && readCategorize(back.rule.outcome)).toEqual(readCategorize(banded(outcome).outcome));
  });

  it.each<[string, MappingTable['rows'], string]>([
    [
      'ranges and texts',
      [
        { k: { from: 1 }, o: 'a' },
        { k: 'x', o: 'b' },
      ],
      'some keys are ranges, others are texts.',
    ],
    ['yes or no', [{ k: true, o: 'a' }], 'row 1: the key is neither a range nor texts.'],
    ['tests', [{ k: { tests: '> 5' }, o: 'a' }], 'row 1: the key is neither a range nor texts.'],
    ['no output', [{ k: 5 }], 'row 1: the output is no text or number.'],
  ])('rows that are no bands are refused: %s', (_, rows, problem) => {
    const back = bandsOf(rows);
    expect('problems' in back && back.problems.join()).toContain(problem);
  });

  it('a table of several keys is no bands', () => {
    expect(bandsFromTable(sizeClass, ages)).toEqual({ problems: ['Ages: bands have one key and one output.'] });
  });

  // The least that DMN 1.3 asks of a decision table (clause 8): from memory.
  it('a document that says little is read by what it says', async () => {
    const xml = (
      policy = '',
    ) => `<definitions xmlns="https://www.omg.org/spec/DMN/20191111/MODEL/" name="x" namespace="y">
      <decision id="Sizes"><decisionTable ${policy}>
        <input><inputExpression><text>Employee count</text></inputExpression></input>
        <output label="Size"><outputValues><text>"Large"</text></outputValues></output><output typeRef="number" />
        <rule><inputEntry><text>&gt;= 250</text></inputEntry><outputEntry><text>"Large"</text></outputEntry></rule>
      </decisionTable></decision>
      <decision id="other"><literalExpression><text>1</text></literalExpression></decision>
    </definitions>`;
    expect(await tablesFromDmn(xml())).toMatchObject({
      tables: [
        {
          name: 'Sizes',
          hitPolicy: 'unique',
          keys: [{ name: 'Employee count' }],
          outputs: [
            { name: 'Size', order: ['Large'] },
            { name: 'Result', type: 'number' },
          ],
          rows: [{ 'employee-count': { from: 250 }, size: 'Large' }],
        },
      ],
    });
    expect(await tablesFromDmn(xml('hitPolicy="RULE ORDER"'))).toMatchObject({ tables: [{ hitPolicy: 'rule order' }] });
    expect(await tablesFromDmn(xml('hitPolicy="SOMETIMES"'))).toEqual({
      problems: ['Sizes: the hit policy sometimes is not known.'],
    });
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
        expect(keyCellFromFeel(keyCellToFeel(c, columnTypeOf('text').toFeel))).toEqual({ cell: c });
      }),
    );
  });
});

it.each<[string, string[][], string]>([
  ['nothing', [], 'The column Country is missing.'],
  ['no column of the table', [['Colour'], ['red']], 'The column Country is missing.'],
  [
    'a key twice',
    [
      ['Country', 'Country'],
      ['Spain', 'Norway'],
    ],
    'The column Country stands twice.',
  ],
])('a file with %s drops no row', (_, lines, problem) => {
  const { plans, heading, table } = planImport(countryTable, dealBook([], { tables: [countryTable] }), lines, 'drop');
  expect(heading).toContain(problem);
  expect(plans.every((p) => p.what === 'refused')).toBe(true);
  expect(table.rows).toEqual(countryTable.rows);
});
