/**
 * Rows of long mapping tables in pieces of some hundreds, apart from the body of their table: an edit of some rows reads
 * and writes the pieces that they stand in. A table has its rows either in its body or in pieces.
 */
import { editPartBody, PatchError, type Operation } from '@rigid-rule/core/document';
import type pg from 'pg';
import type { Queryable } from './pool.ts';

type Row = Readonly<Record<string, unknown>>;

/** Rows that a body has at most, that a new piece has, and that a piece grows to before it is cut. */
const mostInBody = 1000;
const usualPiece = 500;
const mostInPiece = 1000;
/** Operations up to which each reads its own piece. */
const fewOperations = 20;
/** Between the numbers of two pieces: far above what a double can tell apart. */
const nearest = 1e-6;

/** A body without its rows, and those, where they are too many for it. */
export function withoutLongRows(body: unknown): { readonly body: unknown; readonly rows?: readonly Row[] } {
  const { rows, ...frame } = (body ?? {}) as { readonly rows?: unknown };
  return Array.isArray(rows) && rows.length > mostInBody ? { body: frame, rows: rows as Row[] } : { body };
}

/** The rows of the table are these, and no others. */
export async function storeRows(key: string, rows: readonly Row[], on: Queryable): Promise<void> {
  await on.query(`delete from draft_rows where key = $1`, [key]);
  await insertPieces(key, cut(rows, 0, Infinity), on);
}

interface NewPiece {
  readonly n: number;
  readonly rows: readonly Row[];
}

/** Pieces of the usual length, placed from `from` on and before `to`. */
function cut(rows: readonly Row[], from: number, to: number): NewPiece[] {
  const count = Math.ceil(rows.length / usualPiece);
  const length = Math.ceil(rows.length / count);
  const gap = to === Infinity ? 1 : (to - from) / count;
  return Array.from({ length: count }, (_, i) => ({
    n: from + i * gap,
    rows: rows.slice(i * length, (i + 1) * length),
  }));
}

async function insertPieces(key: string, pieces: readonly NewPiece[], on: Queryable): Promise<void> {
  if (pieces.length === 0) return;
  await on.query(
    `insert into draft_rows (key, n, count, rows)
     select $1, n, jsonb_array_length(rows), rows from jsonb_to_recordset($2::jsonb) as p (n double precision, rows jsonb)`,
    [key, JSON.stringify(pieces)],
  );
}

const rowPath = /^\/rows\/(0|[1-9]\d{0,8}|-)(\/.*)?$/;

/** Whether operations are about single rows. */
export const areRowOperations = (operations: readonly Operation[]): boolean =>
  operations.every(({ path }) => rowPath.test(path));

interface Piece {
  readonly n: number;
  /** As it is stored. */
  readonly count: number;
  /** As they are stored, once somebody asked for them. */
  stored?: readonly Row[];
  /** As they are to be. */
  rows?: readonly Row[];
}

/** The rows of one table within a transaction that has locked it. */
export class TableRows {
  private constructor(
    private readonly key: string,
    private readonly pieces: Piece[],
    private readonly client: pg.PoolClient,
  ) {}

  /** Undefined where the table has its rows in its body. */
  static async open(key: string, client: pg.PoolClient): Promise<TableRows | undefined> {
    const { rows } = await client.query<Piece>(`select n, count from draft_rows where key = $1 order by n`, [key]);
    return rows.length > 0 ? new TableRows(key, rows, client) : undefined;
  }

  get count(): number {
    return this.pieces.reduce((sum, piece) => sum + lengthOf(piece), 0);
  }

  /** Rows that were not there before. */
  get changed(): readonly Row[] {
    return this.pieces.filter(isChanged).flatMap(({ stored, rows }) => {
      const before = new Set(stored);
      return rows!.filter((row) => !before.has(row));
    });
  }

  async all(): Promise<readonly Row[]> {
    await this.read(this.pieces);
    return this.pieces.flatMap((piece) => piece.rows!);
  }

  /**
   * Operations on single rows, all or none: nothing is stored before `store`. Gives back their inverse.
   * @throws {PatchError} where one does not fit.
   */
  async edit(operations: readonly Operation[]): Promise<readonly Operation[]> {
    const inverse: (readonly Operation[])[] = [];
    // One question for most of what follows, where it is much.
    if (operations.length > fewOperations) await this.read(this.pieces);
    for (const operation of operations) {
      const [, at = '', rest = ''] = rowPath.exec(operation.path) ?? [];
      const adds = operation.op === 'add' && rest === '';
      const index = at === '-' ? this.count : Number(at);
      const { piece, start } = this.pieceAt(index, adds, operation.path);
      await this.read([piece]);
      const own = `/rows/${index - start}`;
      const done = editHere(piece, { ...operation, path: own + rest }, operation.path);
      inverse.push(done.map((op) => ({ ...op, path: `/rows/${index}${op.path.slice(own.length)}` })));
    }
    return inverse.reverse().flat();
  }

  private pieceAt(index: number, adds: boolean, path: string): { readonly piece: Piece; readonly start: number } {
    let start = 0;
    for (const [i, piece] of this.pieces.entries()) {
      const end = start + lengthOf(piece);
      if (index < end || (adds && index === end && i === this.pieces.length - 1)) return { piece, start };
      start = end;
    }
    throw new PatchError(`${path} leads nowhere`);
  }

  private async read(pieces: readonly Piece[]): Promise<void> {
    const open = pieces.filter((piece) => !piece.rows);
    if (open.length === 0) return;
    const { rows } = await this.client.query<{ n: number; rows: readonly Row[] }>(
      `select n, rows from draft_rows where key = $1 and n = any($2::double precision[])`,
      [this.key, open.map((piece) => piece.n)],
    );
    const found = new Map(rows.map((r) => [r.n, r.rows]));
    for (const piece of open) piece.rows = piece.stored = found.get(piece.n)!;
  }

  /** Writes what was changed. */
  async store(): Promise<void> {
    const changed = this.pieces.filter(isChanged);
    const made = this.made();
    // Where pieces were cut in one place again and again, no number is left between two of them.
    if (made.some(({ n }, i) => i > 0 && n - made[i - 1]!.n < nearest))
      return storeRows(this.key, await this.all(), this.client);
    await this.client.query(`delete from draft_rows where key = $1 and n = any($2::double precision[])`, [
      this.key,
      changed.map((piece) => piece.n),
    ]);
    await insertPieces(this.key, made, this.client);
  }

  private made(): readonly NewPiece[] {
    return this.pieces.flatMap((piece, i): readonly NewPiece[] => {
      if (!isChanged(piece) || piece.rows!.length === 0) return [];
      if (piece.rows!.length <= mostInPiece) return [{ n: piece.n, rows: piece.rows! }];
      return cut(piece.rows!, piece.n, this.pieces[i + 1]?.n ?? Infinity);
    });
  }
}

const isChanged = ({ stored, rows }: Piece): boolean => rows !== stored;
const lengthOf = ({ rows, count }: Piece): number => rows?.length ?? count;

/** Does one operation in a piece; `path`: where it is within the whole table. */
function editHere(piece: Piece, operation: Operation, path: string): readonly Operation[] {
  try {
    const { body, inverse } = editPartBody({ rows: piece.rows! }, [operation]);
    piece.rows = (body as { readonly rows: readonly Row[] }).rows;
    return inverse;
  } catch (e) {
    throw e instanceof PatchError ? new PatchError(e.message.replace(operation.path, path)) : e;
  }
}
