/** What is found about the rows of mapping tables, held against trying every key that their fields can hold. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Program } from '../compile/compiled.ts';
import { compileTable, type CompiledTable } from '../compile/mapping/table.ts';
import type { Cell, Field, MappingTable } from '../document/document.ts';
import { runsOf } from '../testing/runs.ts';
import { parseDate, parseDateTime, parseDuration } from '../values/calendar.ts';
import type { Value } from '../values/value.ts';
import type { FindingContext } from './finding.ts';
import { plainWriting } from '../language/types/writing.ts';
import { boxesOf } from './table-boxes.ts';
import { keyTwice, unreachedRows } from './table-findings.ts';

const day = (n: number): string => `2026-01-${String(n).padStart(2, '0')}`;
const to = (n: number): number[] => Array.from({ length: n }, (_, i) => i);

/** A field with all that it can hold, as far as cells can tell it apart, and the plain cells for it. */
interface Column {
  readonly field: Field;
  readonly values: readonly Value[];
  readonly plain: readonly (string | number | boolean)[];
  readonly match?: 'folded';
}

const columns: readonly Column[] = [
  {
    field: { key: 'n', name: 'N', type: 'number', scale: 0, min: 0, max: 7 },
    values: [null, ...to(8)],
    plain: to(8),
  },
  {
    field: {
      key: 'o',
      name: 'O',
      type: 'picklist',
      options: ['A', 'B', 'C'].map((name) => ({ key: name.toLowerCase(), name })),
    },
    values: [null, 'A', 'B', 'C'],
    plain: ['A', 'B', 'C'],
  },
  { field: { key: 'y', name: 'Y', type: 'yes/no' }, values: [null, true, false], plain: [true, false] },
  {
    field: { key: 'd', name: 'D', type: 'date' },
    values: [null, ...to(12).map((n) => parseDate(day(n + 1)))],
    plain: to(6).map((n) => day(n + 4)),
  },
  {
    field: { key: 'm', name: 'M', type: 'number' },
    values: [null, ...to(15).map((n) => (n - 1) / 2)],
    plain: to(6),
  },
  {
    field: { key: 's', name: 'S', type: 'text' },
    values: [
      ...[null, '!', '\u{10ffff}'],
      ...['ash', 'oak', 'elm']
        .flatMap((t) => [t, t.toUpperCase(), t[0]!.toUpperCase() + t.slice(1)])
        .flatMap((t) => [t, `${t}!`]),
    ],
    plain: ['Ash', 'ASH', 'oak', 'elm'],
    match: 'folded',
  },
  {
    field: { key: 't', name: 'T', type: 'date-time' },
    values: [null, ...to(12).map((n) => parseDateTime(`2026-01-01T${String(n + 6).padStart(2, '0')}:30:00Z`))],
    plain: to(5).map((n) => `2026-01-01T${String(2 * n + 8).padStart(2, '0')}:30:00Z`),
  },
  {
    field: { key: 'p', name: 'P', type: 'duration' },
    values: [null, ...to(12).map((n) => parseDuration(`PT${n}H`))],
    plain: to(5).map((n) => `PT${2 * n + 1}H`),
  },
];
const recordType = { key: 'r', name: 'R', plural: 'Rs', fields: columns.map((c) => c.field), forms: [] };
const book = { recordTypes: [recordType] } as unknown as Parameters<typeof compileTable>[1];

const ordered = (c: Column): boolean => ['number', 'text', 'date', 'date-time', 'duration'].includes(c.field.type);

function cellOf(c: Column): fc.Arbitrary<Cell> {
  const one = fc.constantFrom(...c.plain);
  const end = fc.option(one, { nil: undefined });
  const range = fc
    .record({ from: end, to: end, fromOpen: fc.boolean(), toClosed: fc.boolean() })
    .filter((r) => r.from !== undefined || r.to !== undefined)
    .map(({ from, to: until, fromOpen, toClosed }): Cell => ({
      ...(from === undefined ? {} : { from, fromOpen }),
      ...(until === undefined ? {} : { to: until, toClosed }),
    }));
  const literal = (v: string | number | boolean): string => {
    const name = { date: 'date', 'date-time': 'date and time', duration: 'duration' }[c.field.type];
    return name ? `${name}("${String(v)}")` : JSON.stringify(v);
  };
  const tests = fc.tuple(one, one, fc.constantFrom('not', 'list', 'interval', 'opaque')).map(([a, b, kind]): Cell => {
    if (kind === 'not') return { tests: `not(${literal(a)})` };
    if (kind === 'list') return { tests: `${literal(a)}, ${literal(b)}` };
    if (kind === 'opaque') return { tests: `? = ${literal(a)} or ? = ${literal(b)}` };
    return ordered(c) ? { tests: `[${literal(a)}..${literal(b)})` } : { tests: literal(a) };
  });
  return fc.oneof(
    { weight: 4, arbitrary: one },
    { weight: 2, arbitrary: fc.uniqueArray(one, { minLength: 1, maxLength: 3 }) },
    { weight: 1, arbitrary: fc.constant<Cell>(null) },
    { weight: 1, arbitrary: fc.constant<Cell>({ blank: true }) },
    { weight: 2, arbitrary: tests },
    ...(ordered(c) ? [{ weight: 3, arbitrary: range }] : []),
  );
}

interface Case {
  readonly table: CompiledTable;
  readonly keys: readonly (readonly Value[])[];
}

const policies = ['unique', 'any', 'first', 'priority', 'collect', 'rule order'] as const;

const cases: fc.Arbitrary<Case> = fc.shuffledSubarray([...columns], { minLength: 1, maxLength: 2 }).chain((own) =>
  fc
    .record({
      rows: fc.array(fc.tuple(fc.tuple(...own.map(cellOf)), fc.constantFrom('x', 'y', 'z')), { maxLength: 7 }),
      hitPolicy: fc.constantFrom(...policies),
    })
    .map(({ rows, hitPolicy }): Case => {
      const table: MappingTable = {
        key: 't',
        name: 'T',
        purpose: '',
        hitPolicy,
        keys: own.map(({ field, match }) => ({
          ...{ key: field.key, name: field.name, field: `r.${field.key}` },
          ...(match ? { match } : {}),
        })),
        outputs: [{ key: 'out', name: 'Out', order: ['x', 'y', 'z'] }],
        rows: rows.map(([cells, out]) => ({
          ...Object.fromEntries(own.map(({ field }, i) => [field.key, cells[i]!])),
          out,
        })),
      };
      const keys = own.reduce<readonly (readonly Value[])[]>(
        (so, c) => so.flatMap((key) => c.values.map((v) => [...key, v])),
        [[]],
      );
      return { table: compileTable(table, book), keys };
    }),
);

const holds = (property: (c: Case) => void): void =>
  fc.assert(
    fc.property(cases, (c) => {
      expect(c.table.diagnostics).toEqual([]);
      property(c);
    }),
    { numRuns: runsOf(300) },
  );

describe('of a table whose keys can all be tried', () => {
  it('the rows that nothing reaches are those that no key reaches', () => {
    holds(({ table, keys }) => {
      const reached = new Set<number>();
      for (const key of keys) {
        const hit = table.find(key);
        const one = table.table.hitPolicy === 'first' || table.table.hitPolicy === 'priority';
        for (const row of one && hit.found === 'one' ? hit.rows : table.matching(key)) reached.add(row);
      }
      const told = unreachedRows(table);
      const { opaque } = boxesOf(table);
      for (let row = 0; row < table.rowCount; row++) {
        if (told.has(row)) expect(reached.has(row), `row ${row}: ${told.get(row)}`).toBe(false);
        else if (opaque.size === 0) expect(reached.has(row), `row ${row} is said to be reached`).toBe(true);
      }
    });
  });

  it('a key stands twice where the look-up finds several, and nowhere else', () => {
    holds(({ table, keys }) => {
      if (table.table.hitPolicy !== 'unique' && table.table.hitPolicy !== 'any') return;
      const several = keys.some((key) => table.find(key).found === 'several');
      const program = { tables: new Map([['t', table]]), writing: plainWriting } as unknown as Program;
      const told = [...keyTwice.find(program, {} as FindingContext)];
      if (told.length > 0 || boxesOf(table).opaque.size === 0) expect(told.length > 0).toBe(several);
    });
  });

  it('a gap is a key without a row', () => {
    holds(({ table, keys }) => {
      const { gaps, opaque } = boxesOf(table);
      if (opaque.size > 0) return;
      for (const { atoms } of gaps) {
        const [first] = keys;
        const key = first!.map((_, i) => atoms[i]?.value ?? null);
        expect(table.matching(key), atoms.map((a) => a.text).join(', ')).toEqual([]);
      }
    });
  });
});
