/** What became of a mapping table: each row that came, went or is otherwise, with what it says. */
import { sameJson } from '../../document/canonical.ts';
import type { Cell, MappingTable } from '../../document/document.ts';
import { cellText } from '../../compile/mapping/cells.ts';
import { becomes, isolated } from '../../language/wording/isolated.ts';
import { counted, enumerate } from '../../language/wording/prose.ts';
import type { Writing } from '../../language/types/writing.ts';
import { memberPhrases, memberText } from './members.ts';
import { numbering } from './numbering.ts';

/** Rows that are told between two pauses: a table may have hundreds of thousands. */
const rowsInStep = 500;

/** Rows by their key cells; everything else of the table as members. */
export function* tablePhrases(a: MappingTable, b: MappingTable, writing: Writing): Generator<void, string[]> {
  const { rows: _, ...oldFrame } = a;
  const { rows: __, ...newFrame } = b;
  const [phrases, changed]: [string[], string[]] = [memberPhrases('table', oldFrame, newFrame, writing), []];
  const [before, after] = [yield* rowsByKey(a.rows, b.keys, writing), yield* rowsByKey(b.rows, b.keys, writing)];
  const former = yield* formerKeys(a, b, before, after);
  let nth = 0;
  for (const [key, row] of after) {
    if (++nth % rowsInStep === 0) yield;
    const was = before.get(former.get(key) ?? key);
    if (!was) phrases.push(`row added, ${rowText(key, row, b, writing)}`);
    else if (was !== row && !sameJson(was, row)) changed.push(...cellPhrases(key, was, row, b, writing));
    if (former.has(key)) phrases.push(`row ${becomes(former.get(key)!, key)}`);
  }
  const rekeyed = new Set(former.values());
  for (const [key, row] of before) {
    if (++nth % rowsInStep === 0) yield;
    if (!after.has(key) && !rekeyed.has(key)) phrases.push(`row removed, ${rowText(key, row, a, writing)}`);
  }
  const told = [...phrases, ...changed, ...((yield* sameOrder(before, after)) ? [] : ['order of the rows'])];
  return told.length > 0 ? told : ['how cells are written; what they say is the same'];
}

type Rows = ReadonlyMap<string, Row>;

/**
 * Keys that rows had before, by those they have now. Where there are as many rows, one with a new key in the place of one
 * that is gone is that row, if something that it gives is the same.
 */
function* formerKeys(a: MappingTable, b: MappingTable, before: Rows, after: Rows) {
  const found = new Map<string, string>();
  if (a.rows.length !== b.rows.length) return found;
  const keys = [...before.keys()];
  let at = 0;
  for (const [key, row] of after) {
    const stood = keys[at++]!;
    if (at % rowsInStep === 0) yield;
    if (before.has(key) || after.has(stood)) continue;
    const was = before.get(stood)!;
    if (b.outputs.some((c) => (row[c.key] ?? null) !== null && sameJson(was[c.key], row[c.key]))) found.set(key, stood);
  }
  return found;
}

/** What a table that comes or goes gives by what; of one that comes, each row. */
export function* tableLines(table: MappingTable, comes: boolean, writing: Writing): Generator<void, string[]> {
  const names = (list: MappingTable['keys']): string => enumerate(list.map((c) => c.name)) || 'nothing';
  const lines = [
    `${names(table.outputs)} by ${names(table.keys)}, hit policy ${table.hitPolicy}; ${counted(table.rows.length, 'row')}`,
    ...(table.purpose ? [`purpose: ${isolated(table.purpose)}`] : []),
    `columns ${[...table.keys, ...table.outputs].map((c) => memberText(c, writing)).join('; ')}`,
  ];
  let nth = 0;
  if (comes)
    for (const [key, row] of yield* rowsByKey(table.rows, table.keys, writing)) {
      if (++nth % rowsInStep === 0) yield;
      lines.push(rowText(key, row, table, writing));
    }
  return lines;
}

/** Whether the keys that two maps share stand in the same order in both. */
function* sameOrder(a: Rows, b: Rows): Generator<void, boolean> {
  const others = b.keys();
  let nth = 0;
  for (const key of a.keys()) {
    if (++nth % rowsInStep === 0) yield;
    if (!b.has(key)) continue;
    let other = others.next();
    while (!other.done && !a.has(other.value)) other = others.next();
    if (other.value !== key) return false;
  }
  return true;
}

function rowText(key: string, row: Row, { outputs }: MappingTable, writing: Writing): string {
  const given = outputs
    .filter((c) => (row[c.key] ?? null) !== null)
    .map((c) => `${c.name} ${isolated(outputText(row[c.key], writing))}`);
  return [isolated(key), ...(given.length > 0 ? [given.join(', ')] : [])].join(': ');
}

const cellPhrases = (key: string, was: Row, row: Row, { outputs }: MappingTable, writing: Writing): string[] =>
  outputs
    .filter((c) => !sameJson(was[c.key] ?? null, row[c.key] ?? null))
    .map(
      (c) =>
        `${c.name} of ${isolated(key)} ${becomes(outputText(was[c.key], writing), outputText(row[c.key], writing))}`,
    );

/** Rows by what their key cells say; of several that say the same, the second is `Spain (2nd)`. */
function* rowsByKey(rows: MappingTable['rows'], keys: MappingTable['keys'], writing: Writing): Generator<void, Rows> {
  const [found, nthOf] = [new Map<string, Row>(), numbering()];
  for (const [i, row] of rows.entries()) {
    if (i % rowsInStep === rowsInStep - 1) yield;
    const said = keys.map((c) => cellText(row[c.key], writing)).join(', ');
    const nth = nthOf(said);
    found.set(nth === 1 ? said : `${said} (${ordinal(nth)})`, row);
  }
  return found;
}

type Row = MappingTable['rows'][number];
const ordinal = (n: number): string => {
  const ending = n % 100 >= 11 && n % 100 <= 13 ? undefined : ['st', 'nd', 'rd'][(n % 10) - 1];
  return `${n}${ending ?? 'th'}`;
};

const outputText = (cell: Cell | undefined, writing: Writing): string =>
  cell === null || cell === undefined ? 'blank' : cellText(cell, writing);
