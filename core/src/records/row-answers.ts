/** What is asked of a mapping table whose rows stand elsewhere, and what was answered. */
import type { MappingTable } from '../document/document.ts';

/** A key on its way: its kind and its text; a list of such; null for blank. */
export type SentKey = string | null | readonly (string | null)[];

/** Asks for the rows of a table that accept the keys, in the order of its key columns. */
export interface RowsQuery {
  readonly table: string;
  readonly keys: readonly SentKey[];
}

export interface FoundRow {
  readonly index: number;
  readonly row: MappingTable['rows'][number];
}

/** In the order of the table; null where to find them takes more than a formula may. */
export type FoundRows = readonly FoundRow[] | null;

/** The mapping tables whose rows stand elsewhere. */
export interface RowsElsewhere {
  has(table: string): boolean;
  /** Undefined where the question has no answer yet. */
  answer(query: RowsQuery): FoundRows | undefined;
}

export const rowsKey = ({ table, keys }: RowsQuery): string => JSON.stringify([table, keys]);

/** Answers kept as they come in. */
export class AnsweredRows implements RowsElsewhere {
  private readonly answers = new Map<string, FoundRows>();

  /** `tables`: keys of those whose rows stand elsewhere. */
  constructor(private readonly tables: ReadonlySet<string>) {}

  has(table: string): boolean {
    return this.tables.has(table);
  }

  answer(query: RowsQuery): FoundRows | undefined {
    return this.answers.get(rowsKey(query));
  }

  put(query: RowsQuery, found: FoundRows): void {
    this.answers.set(rowsKey(query), found);
  }
}
