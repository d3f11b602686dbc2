/** What is asked of a mapping table whose rows stand elsewhere, and what was answered. */
import type { MappingTable } from '../document/document.ts';

/** A key on its way: its kind and its text; a list of them; null for blank. */
export type SentKey = string | null | readonly SentKey[];

/** Asks for the rows of a table that accept the keys, in the order of its key columns. */
export interface RowsQuery {
  readonly table: string;
  readonly keys: readonly SentKey[];
}

export interface FoundRow {
  readonly index: number;
  readonly row: MappingTable['rows'][number];
}

/** The mapping tables whose rows stand elsewhere. */
export interface RowsElsewhere {
  has(table: string): boolean;
  /** In the order of the table; undefined where the question has no answer yet. */
  answer(query: RowsQuery): readonly FoundRow[] | undefined;
}

export const rowsKey = ({ table, keys }: RowsQuery): string => JSON.stringify([table, keys]);

/** Answers kept as they come in. */
export class AnsweredRows implements RowsElsewhere {
  private readonly answers = new Map<string, readonly FoundRow[]>();

  /** `tables`: keys of those whose rows stand elsewhere. */
  constructor(private readonly tables: ReadonlySet<string>) {}

  has(table: string): boolean {
    return this.tables.has(table);
  }

  answer(query: RowsQuery): readonly FoundRow[] | undefined {
    return this.answers.get(rowsKey(query));
  }

  put(query: RowsQuery, found: readonly FoundRow[]): void {
    this.answers.set(rowsKey(query), found);
  }
}
