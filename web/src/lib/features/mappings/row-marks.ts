/** What is wrong with a table, by cell and by row. */
import type { Finding } from '@rigid-rule/core/analysis';
import { canonicalJson, type MappingTable } from '@rigid-rule/core/document';
import type { Row } from './sheet-view.ts';

const inRows = '/rows/';

/** What is wrong with single cells, by `row/column key`. */
export const wrongCells = (
  diagnostics: readonly { readonly path?: string; readonly message: string }[],
): ReadonlyMap<string, string> =>
  new Map(
    diagnostics.flatMap(({ path, message }) =>
      path?.startsWith(inRows) ? [[path.slice(inRows.length), message]] : [],
    ),
  );

/** Rows that a finding names, by index; of a key that stands twice, every row that has it. */
export function namedRows(findings: readonly Finding[], { keys, rows }: MappingTable): ReadonlyMap<number, Finding> {
  const found = new Map<number, Finding>();
  for (const f of findings) {
    const row = /^\/rows\/(\d+)/.exec(f.path ?? '')?.[1];
    if (row !== undefined && f.kind !== 'does-not-compile') found.set(Number(row), f);
  }
  const keyOf = (row: Row): string => canonicalJson(keys.map((c) => row[c.key] ?? null));
  const twice = new Map(
    [...found].flatMap(([i, f]) => (f.kind === 'table-key-twice' ? [[keyOf(rows[i] ?? {}), f] as const] : [])),
  );
  if (twice.size > 0)
    rows.forEach((row, i) => {
      const finding = twice.get(keyOf(row));
      if (finding && !found.has(i)) found.set(i, finding);
    });
  return found;
}
