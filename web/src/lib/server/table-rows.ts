/** Rows of mapping tables for forms whose rules came without them. */
import type { Program } from '@rigid-rule/core/compile';
import { rowsFor, type FoundRows, type RowsQuery } from '@rigid-rule/core/records';
import { inSteps } from './in-steps.ts';

/** Whether some rule asks every one of these tables: nobody else's rows are given away. */
export function areAsked({ types }: Program, queries: readonly RowsQuery[]): boolean {
  const asked = new Set([...types.values()].flatMap((t) => t.rules.flatMap((r) => [...r.tables])));
  return queries.every((q) => asked.has(q.table));
}

/** An answer to each question, in their order; `queries`: of tables that there are. */
export const tableRows = ({ tables }: Program, queries: readonly RowsQuery[]): Promise<readonly FoundRows[]> =>
  inSteps(
    (function* () {
      const answers: FoundRows[] = [];
      for (const query of queries) {
        yield;
        answers.push(rowsFor(query, tables.get(query.table)!));
      }
      return answers;
    })(),
  );
