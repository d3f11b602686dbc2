/** The draft as it stands, read by what differs from how it was known: of a large one an edit changes very little. */
import { partId } from '@rigid-rule/core/document';
import { compareText } from '@rigid-rule/core/values';
import type { VersionedPart } from '../../draft-protocol.ts';
import { db, type Queryable } from './pool.ts';

/** The parts of the draft as one of its states has them. */
export interface DraftState {
  /** By kind, position and key. */
  readonly parts: readonly VersionedPart[];
  /** For each part and each piece of a long table, by its id, which state of it this is. */
  readonly states: ReadonlyMap<string, string>;
  /** Pieces of long tables by their ids. */
  readonly pieces: ReadonlyMap<string, Piece>;
}

interface Piece {
  /** Of its table. */
  readonly key: string;
  /** Where it stands among the pieces of its table. */
  readonly n: number;
  readonly rows: readonly unknown[];
}

/** A part that is new or another than it was. */
interface OtherPart extends VersionedPart {
  readonly gone: false;
  readonly id: string;
  readonly state: string;
}
/** The same of a piece: its number is its position, its rows are its body. */
interface OtherPiece extends Omit<OtherPart, 'kind' | 'body'> {
  readonly kind: null;
  readonly body: readonly unknown[];
}
/** One that there is no more. */
interface Gone {
  readonly gone: true;
  readonly id: string;
}
export type Difference = OtherPart | OtherPiece | Gone;

const nothing: DraftState = { parts: [], states: new Map(), pieces: new Map() };

/** What is as `before` has it keeps its body, and its rows theirs: neither is read again. */
export async function loadDraft(on: Queryable = db(), before: DraftState = nothing): Promise<DraftState> {
  const { rows } = await on.query<Difference>({
    name: 'load-draft',
    text: `with known as materialized (
             select key as id, value as state from jsonb_each_text($1::jsonb)
           ), stored as (
             select kind || ':' || key as id, kind, key, position, version, body,
                    concat_ws(' ', version, changed_at, position) as state
               from draft_parts
              union all
             select 'rows:' || key || ':' || n, null, key, n, 0, rows, state::text from draft_rows
           )
           select id, stored.key is null as gone, kind, key, position, version, stored.state, body
             from stored full join known using (id)
            where stored.state is distinct from known.state`,
    values: [JSON.stringify(Object.fromEntries(before.states))],
  });
  return rows.length === 0 ? before : withDifferences(before, rows);
}

/** `differences`: all that there are, in any order. */
export function withDifferences(before: DraftState, differences: readonly Difference[]): DraftState {
  const states = new Map(before.states);
  const pieces = new Map(before.pieces);
  const changed = new Map<string, VersionedPart>();
  /** Tables whose pieces are others. */
  const recut = new Set<string>();
  for (const difference of differences) {
    const { id } = difference;
    const piece = pieces.get(id);
    if (piece) recut.add(piece.key);
    pieces.delete(id);
    states.delete(id);
    if (difference.gone) continue;
    states.set(id, difference.state);
    if (difference.kind === null) {
      const { key, position, body } = difference;
      pieces.set(id, { key, n: position, rows: body });
      recut.add(key);
    } else {
      const { kind, key, position, version, body } = difference;
      changed.set(id, { kind, key, position, version, body });
    }
  }
  const rowsOf = (key: string): readonly unknown[] | undefined => {
    const own = [...pieces.values()].filter((p) => p.key === key).sort((a, b) => a.n - b.n);
    return own.length > 0 ? own.flatMap((p) => p.rows) : undefined;
  };
  const withRows = (part: VersionedPart): VersionedPart => {
    const rows = part.kind === 'table' ? rowsOf(part.key) : undefined;
    return rows ? { ...part, body: { ...(part.body as object), rows } } : part;
  };
  let isOrdered = true;
  const parts: VersionedPart[] = [];
  for (const part of before.parts) {
    const id = partId(part);
    const now = changed.get(id);
    changed.delete(id);
    isOrdered &&= now === undefined || now.position === part.position;
    if (now) parts.push(withRows(now));
    else if (part.kind === 'table' && recut.has(part.key) && states.has(id))
      parts.push(withRows({ ...part, body: withoutRows(part.body) }));
    else if (states.has(id)) parts.push(part);
  }
  for (const made of changed.values()) parts.push(withRows(made));
  return { parts: isOrdered && changed.size === 0 ? parts : parts.sort(byPlace), states, pieces };
}

const withoutRows = (body: unknown): unknown => {
  const { rows: _, ...frame } = body as { readonly rows?: unknown };
  return frame;
};

const byPlace = (a: VersionedPart, b: VersionedPart): number =>
  compareText(a.kind, b.kind) || a.position - b.position || compareText(a.key, b.key);
