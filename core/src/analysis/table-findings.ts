/** Findings about rows of mapping tables: keys twice, options without a row, rows that are never reached. */
import type { Program } from '../engine/program.ts';
import { type KeyCell, cellText } from '../mapping/cells.ts';
import { combinations, type CompiledTable, type TableRow } from '../mapping/table.ts';
import { canonicalJson } from '../rulebook/canonical.ts';
import { foldedKey } from '../values/unicode-case.ts';
import { type FindingKind, type Found, activeRules, rulePart } from './finding.ts';

/** Values that a cell surely accepts, as texts; undefined where they cannot be listed. */
const valuesOf = (cell: KeyCell): readonly string[] | undefined =>
  cell.kind === 'values' ? cell.keys : cell.kind === 'blank' ? ['-'] : undefined;

/** Whether whatever the one cell accepts the other accepts too; false where that is not known. */
function covers(a: KeyCell, b: KeyCell): boolean {
  if (a.kind === 'any') return true;
  const [x, y] = [valuesOf(a), valuesOf(b)];
  if (x && y) return y.every((v) => x.includes(v));
  if (a.kind !== 'range' || b.kind !== 'range') return false;
  const [p, q] = [a.range, b.range];
  const number = (v: unknown, open: number): number => (typeof v === 'number' ? v : open);
  const [pl, ql] = [number(p.low, -Infinity), number(q.low, -Infinity)];
  const [ph, qh] = [number(p.high, Infinity), number(q.high, Infinity)];
  return (
    (pl < ql || (pl === ql && (p.lowIncluded || !q.lowIncluded))) &&
    (ph > qh || (ph === qh && (p.highIncluded || !q.highIncluded)))
  );
}

const rowCovers = (a: TableRow, b: TableRow): boolean => a.keys.every((cell, i) => covers(cell, b.keys[i]!));

function keyText({ table, keyColumns }: CompiledTable, row: number): string {
  return keyColumns.map(({ column }) => cellText(table.rows[row]![column.key])).join(', ');
}

/** Pairs of rows of which the earlier one accepts all that the later one does; plain rows are paired by hash. */
function* coveredRows(table: CompiledTable): Iterable<readonly [number, number]> {
  const { compiled } = table;
  const seen = new Map<string, number>();
  const loose: number[] = [];
  for (const [i, row] of compiled.entries()) {
    const keys = row.keys.map(valuesOf);
    const earlier = loose.find((other) => rowCovers(compiled[other]!, row));
    if (earlier !== undefined) yield [earlier, i];
    if (!keys.every((k) => k !== undefined)) {
      loose.push(i);
      continue;
    }
    for (const key of combinations(keys)) {
      const other = seen.get(key);
      if (other !== undefined) yield [other, i];
      else seen.set(key, i);
    }
  }
}

export const keyTwice: FindingKind = {
  key: 'table-key-twice',
  name: 'A key that stands twice',
  severity: 'error',
  *find(program) {
    for (const table of program.tables.values()) {
      if (table.table.hitPolicy !== 'unique' && table.table.hitPolicy !== 'any') continue;
      for (const [first, second] of coveredRows(table)) {
        const same =
          canonicalJson(table.compiled[first]!.values.map(String)) ===
          canonicalJson(table.compiled[second]!.values.map(String));
        if (table.table.hitPolicy === 'any' && same) continue;
        yield {
          part: { kind: 'table', key: table.table.key },
          path: `/rows/${second}`,
          also: keyText(table, second),
          sentence: `${table.table.name} has ${keyText(table, second)} in row ${first + 1} and again in row ${second + 1}, ${same ? 'with the same values' : 'with other values'}: the look-up finds several.`,
          repair: {
            text: `take out row ${second + 1}`,
            edits: [
              {
                part: { kind: 'table', key: table.table.key },
                operations: [{ op: 'remove', path: `/rows/${second}` }],
              },
            ],
          },
        };
      }
    }
  },
};

export const rowNeverReached: FindingKind = {
  key: 'table-row-never-reached',
  name: 'A row that is never reached',
  severity: 'warning',
  *find(program) {
    for (const table of program.tables.values()) {
      if (table.table.hitPolicy !== 'first') continue;
      const told = new Set<number>();
      for (const [first, second] of coveredRows(table)) {
        if (told.has(second)) continue;
        told.add(second);
        yield {
          part: { kind: 'table', key: table.table.key },
          path: `/rows/${second}`,
          also: keyText(table, second),
          sentence: `Row ${second + 1} of ${table.table.name} is never reached: row ${first + 1} takes all that it accepts.`,
          repair: {
            text: `take out row ${second + 1}`,
            edits: [
              {
                part: { kind: 'table', key: table.table.key },
                operations: [{ op: 'remove', path: `/rows/${second}` }],
              },
            ],
          },
        };
      }
    }
  },
};

export const optionWithoutRow: FindingKind = {
  key: 'option-without-row',
  name: 'Options without a row',
  severity: 'warning',
  *find(program) {
    for (const table of program.tables.values()) {
      const { compiled, keyColumns } = table;
      for (const [i, { column, field }] of keyColumns.entries()) {
        if (!field?.options || compiled.some((row) => !['values', 'blank'].includes(row.keys[i]!.kind))) continue;
        const listed = new Set(compiled.flatMap((row) => valuesOf(row.keys[i]!) ?? []));
        const missing = field.options.filter((o) => !listed.has(`s${o.name}`));
        if (missing.length === 0) continue;
        yield {
          part: { kind: 'table', key: table.table.key },
          path: '/rows',
          also: column.key,
          sentence: `${table.table.name} has no row for ${missing.map((o) => o.name).join(', ')} of ${field.name}.`,
          repair: {
            text: `add ${missing.length === 1 ? 'a row' : `${missing.length} rows`} to fill in`,
            edits: [
              {
                part: { kind: 'table', key: table.table.key },
                operations: missing.map(
                  (o) => ({ op: 'add', path: '/rows/-', value: { [column.key]: o.name } }) as const,
                ),
              },
            ],
          },
        };
      }
    }
    yield* pairsWithoutOption(program);
  },
};

/** The same of option-to-option pairs in a rule. */
function* pairsWithoutOption(program: Program): Iterable<Found> {
  for (const [r, type] of activeRules(program)) {
    const { pairs } = r.anatomy;
    if (!pairs) continue;
    const field = type.recordType.fields.find((f) => f.name === pairs.formula.trim());
    const listed = new Set(pairs.from.map(foldedKey));
    const missing = field?.options?.filter((o) => !listed.has(foldedKey(o.name))) ?? [];
    if (!field || missing.length === 0) continue;
    yield {
      part: rulePart(r.rule),
      path: `/outcome${pairs.path}`,
      sentence: `${r.rule.name} has no pair for ${missing.map((o) => o.name).join(', ')} of ${field.name}.`,
      repair: {
        text: `add ${missing.length === 1 ? 'a pair' : `${missing.length} pairs`} to fill in`,
        edits: [
          {
            part: rulePart(r.rule),
            operations: missing.map(
              (o) => ({ op: 'add', path: `/outcome${pairs.path}/-`, value: { from: o.name, to: null } }) as const,
            ),
          },
        ],
      },
    };
  }
}
