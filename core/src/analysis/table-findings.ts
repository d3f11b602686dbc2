/** Findings about rows of mapping tables: keys twice, options without a row, rows that are never reached. */
import { hasErrors } from '../diagnostics/catalog.ts';
import { plainWriting, type Writing } from '../language/types/writing.ts';
import { writtenLoose } from '../language/wording/written.ts';
import type { Program } from '../compile/compiled.ts';
import { type KeyCell, cellText } from '../compile/mapping/cells.ts';
import { blankKey } from '../compile/mapping/rows.ts';
import type { CompiledTable } from '../compile/mapping/table.ts';
import { canonicalJson } from '../document/canonical.ts';
import { foldedKey } from '../values/unicode-case.ts';
import { orderValues, type Value } from '../values/value.ts';
import { tablePart } from './compile-findings.ts';
import { type FindingKind, type Found, type Repair, activeRules, rulePart } from './finding.ts';
import { type Atom, type Boxes, boxesOf } from './table-boxes.ts';

/** Values that a cell surely accepts, as texts; undefined where they cannot be listed. */
const valuesOf = (cell: KeyCell): readonly string[] | undefined =>
  cell.kind === 'values' ? cell.keys : cell.kind === 'blank' ? [blankKey] : undefined;

/** Whether whatever the one cell accepts the other accepts too; false where that is not known. */
function covers(a: KeyCell, b: KeyCell): boolean {
  if (a.kind === 'any') return true;
  const [x, y] = [valuesOf(a), valuesOf(b)];
  if (x && y) return y.every((v) => x.includes(v));
  if (a.kind !== 'range' || b.kind !== 'range') return false;
  const [p, q] = [a.range, b.range];
  return (
    reachesAsFar(p.low, p.lowIncluded, q.low, q.lowIncluded, 1) &&
    reachesAsFar(p.high, p.highIncluded, q.high, q.highIncluded, -1)
  );
}

/** Whether a range that ends at `own` goes at least as far as one that ends at `other`; `outwards`: 1 at the low ends. */
function reachesAsFar(own: Value, isIn: boolean, other: Value, otherIsIn: boolean, outwards: 1 | -1): boolean {
  if (own === null || other === null) return own === null;
  const order = orderValues(other, own);
  return order === 0 ? isIn || !otherIsIn : order !== null && order * outwards > 0;
}

const rowCovers = (a: readonly KeyCell[], b: readonly KeyCell[]): boolean => a.every((cell, i) => covers(cell, b[i]!));

function keyText({ table, keyColumns }: CompiledTable, row: number, writing: Writing): string {
  return keyColumns.map(({ column }) => cellText(table.rows[row]![column.key], writing)).join(', ');
}

interface AlikeRows {
  readonly first: number;
  readonly second: number;
  /** The first accepts whatever the second does; else they have a key in common. */
  readonly whole: boolean;
}

/** Earlier rows with one key that a row is held against. */
const mostWithKey = 8;

/** Pairs of rows that surely accept a key in common; plain rows are paired by hash. */
function* alikeRows(table: CompiledTable): Iterable<AlikeRows> {
  const byText = new Map<string, number | number[]>();
  const tried: { readonly row: number; readonly cells: readonly KeyCell[] }[] = [];
  for (let second = 0; second < table.rowCount; second++) {
    const cells = table.keyCells(second);
    const covering = tried.find((first) => rowCovers(first.cells, cells));
    if (covering) yield { first: covering.row, second, whole: true };
    const texts = table.texts(second);
    if (!texts) tried.push({ row: second, cells });
    for (const text of texts ?? []) {
      const earlier = byText.get(text);
      if (earlier === undefined) {
        byText.set(text, second);
        continue;
      }
      const all = typeof earlier === 'number' ? [earlier] : earlier;
      for (const first of all) yield { first, second, whole: rowCovers(table.keyCells(first), cells) };
      if (all.length < mostWithKey) byText.set(text, [...all, second]);
    }
  }
}

/** As a finding is known by: whoever reads it. */
const plainKey = (table: CompiledTable, row: number): string => keyText(table, row, plainWriting);

/** More than this of one kind in one table are not told one by one. */
const mostTold = 50;

const pairKey = (a: number, b: number): string => `${a}:${b}`;

/** Pairs of rows that accept a key in common, with such a key: rows of which one holds the other first. */
function* meetingRows(
  table: CompiledTable,
  writing: Writing,
): Iterable<readonly [first: number, second: number, at: string | undefined]> {
  const seen = new Set<string>();
  const boxes = boxesOf(table);
  const accepted = acceptedRows(boxes);
  for (const { first, second, whole } of alikeRows(table)) {
    if (seen.has(pairKey(first, second))) continue;
    // A row that accepts nothing that its fields can hold meets no other.
    if (boxes.complete && !accepted[second] && !boxes.opaque.has(second)) continue;
    seen.add(pairKey(first, second));
    yield [first, second, whole ? undefined : commonKey(table, first, second, writing)];
  }
  for (const { rows, atoms } of boxes.shared)
    for (let i = 0; i + 1 < rows.length; i++) {
      const [first, second] = [rows[i]!, rows[i + 1]!];
      if (seen.has(pairKey(first, second))) continue;
      seen.add(pairKey(first, second));
      yield [first, second, boxText(table, atoms, writing)];
    }
}

/** By row: 1 where some key that the fields can hold is accepted. */
function acceptedRows({ alone, shared }: Boxes): Uint8Array {
  const accepted = alone.slice();
  for (const { rows } of shared) for (const r of rows) accepted[r] = 1;
  return accepted;
}

const boxText = (table: CompiledTable, atoms: readonly Atom[], writing: Writing): string =>
  keyNamed(
    table,
    atoms.map((a) => a.text(writing)),
  );

const keyNamed = ({ keyColumns }: CompiledTable, texts: readonly string[]): string =>
  texts.map((text, i) => (keyColumns.length > 1 ? `${keyColumns[i]!.column.name} ${text}` : text)).join(', ');

/** A key that two rows of plain cells accept. */
function commonKey(table: CompiledTable, first: number, second: number, writing: Writing): string {
  const others = table.keyCells(second);
  const texts = table.keyCells(first).map((cell, i) => {
    const other = others[i]!;
    if (cell.kind !== 'values' || other.kind !== 'values') return 'blank';
    const value = cell.values[cell.keys.findIndex((k) => other.keys.includes(k))]!;
    return writtenLoose(value, writing);
  });
  return keyNamed(table, texts);
}

const takeOut = (table: CompiledTable, row: number): Repair => ({
  text: `take out row ${row + 1}`,
  edits: [{ part: tablePart(table.table), operations: [{ op: 'remove', path: `/rows/${row}` }] }],
});

export const keyTwice: FindingKind = {
  key: 'table-key-twice',
  name: 'A key that stands twice',
  severity: 'error',
  *find(program) {
    for (const table of program.tables.values()) {
      const { hitPolicy, name } = table.table;
      if (hitPolicy !== 'unique' && hitPolicy !== 'any') continue;
      let told = 0;
      for (const [first, second, at] of meetingRows(table, program.writing)) {
        const same = canonicalJson(table.values(first).map(String)) === canonicalJson(table.values(second).map(String));
        if (hitPolicy === 'any' && same) continue;
        if (told++ === mostTold) break;
        const values = same ? 'with the same values' : 'with other values';
        yield {
          part: tablePart(table.table),
          path: `/rows/${second}`,
          also: at === undefined ? plainKey(table, second) : `${plainKey(table, first)} | ${plainKey(table, second)}`,
          sentence:
            at === undefined
              ? `${name} has ${keyText(table, second, program.writing)} in row ${first + 1} and again in row ${second + 1}, ${values}: the look-up finds several.`
              : `Rows ${first + 1} and ${second + 1} of ${name} overlap, ${values}: for ${at} the look-up finds several.`,
          ...(at === undefined ? { repair: takeOut(table, second) } : {}),
        };
      }
    }
  },
};

/** Rows that no key reaches: nothing that their cells accept is left by the field, or others have it all. */
export function unreachedRows(table: CompiledTable): ReadonlyMap<number, string> {
  const found = new Map<number, string>();
  const { hitPolicy } = table.table;
  const ordered = hitPolicy === 'first' || hitPolicy === 'priority';
  if (hitPolicy === 'first')
    for (const { first, second, whole } of alikeRows(table))
      if (whole && !found.has(second)) found.set(second, `row ${first + 1} takes all that it accepts`);
  const boxes = boxesOf(table);
  const { shared, alone, opaque, complete } = boxes;
  if (!complete) return found;
  const [accepted, reached] = [acceptedRows(boxes), alone.slice()];
  for (const { rows, atoms } of shared) {
    const hit = hitPolicy === 'priority' ? table.find(atoms.map((a) => a.value)) : undefined;
    // What a row of which no more is known takes here it may leave to others elsewhere in the box.
    const told = hit?.found !== 'one' ? rows.slice(0, 1) : hit.rows.some((r) => opaque.has(r)) ? rows : hit.rows;
    for (const r of told) reached[r] = 1;
  }
  for (let row = 0; row < table.rowCount; row++) {
    if (found.has(row) || opaque.has(row)) continue;
    if (!accepted[row]) found.set(row, 'no value of its fields is one that it accepts');
    else if (ordered && !reached[row])
      found.set(
        row,
        `other rows ${hitPolicy === 'first' ? 'before it' : 'with a higher priority'} take all that it accepts`,
      );
  }
  return found;
}

export const rowNeverReached: FindingKind = {
  key: 'table-row-never-reached',
  name: 'A row that is never reached',
  severity: 'warning',
  *find(program) {
    for (const table of program.tables.values())
      for (const [row, why] of unreachedRows(table))
        yield {
          part: tablePart(table.table),
          path: `/rows/${row}`,
          also: plainKey(table, row),
          sentence: `Row ${row + 1} of ${table.table.name} is never reached: ${why}.`,
          repair: takeOut(table, row),
        };
  },
};

export const keyWithoutRow: FindingKind = {
  key: 'table-gap',
  name: 'Keys without a row',
  severity: 'warning',
  *find(program) {
    for (const table of program.tables.values()) {
      // Where several rows answer together, none is an answer as well.
      if (!['unique', 'any', 'first', 'priority'].includes(table.table.hitPolicy) || hasErrors(table.diagnostics))
        continue;
      const { gaps, complete } = boxesOf(table);
      if (!complete || gaps.length === 0) continue;
      const shown = gaps.slice(0, 3).map(({ atoms }) => boxText(table, atoms, program.writing));
      const more = gaps.length > shown.length ? ` and ${gaps.length - shown.length} more` : '';
      yield {
        part: tablePart(table.table),
        path: '/rows',
        sentence: `${table.table.name} has no row for ${shown.join('; ')}${more}.`,
      };
    }
  },
};

export const optionWithoutRow: FindingKind = {
  key: 'option-without-row',
  name: 'Options without a row',
  severity: 'warning',
  *find(program) {
    for (const table of program.tables.values()) {
      for (const [i, { column, field }] of table.keyColumns.entries()) {
        if (!field?.options) continue;
        const accepted = table.cellsOf(i).map(valuesOf);
        if (accepted.includes(undefined)) continue;
        const listed = new Set(accepted.flat());
        const missing = field.options.filter((o) => !listed.has(`s${o.name}`));
        if (missing.length === 0) continue;
        yield {
          part: { kind: 'table', key: table.table.key },
          path: '/rows',
          also: column.key,
          sentence: `${table.table.name} has no row for ${missing.length === 1 ? 'this option' : 'these options'} of ${field.name}: ${missing.map((o) => o.name).join(', ')}.`,
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
    const { pairs } = r.structure;
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
