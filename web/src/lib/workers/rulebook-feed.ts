/**
 * A rulebook told to a worker as it changes: only the parts that are otherwise go over, of a mapping table the rows that
 * are, and what stayed keeps its identity there, so that what hangs on it is not made anew.
 */
import {
  fromParts,
  partId,
  sameJson,
  toParts,
  type MappingTable,
  type Part,
  type Rulebook,
} from '@rigid-rule/core/document';

type Rows = MappingTable['rows'];

/** A part that is new or otherwise. */
interface ToldPart extends Omit<Part, 'body'> {
  /** The body as JSON, since the interface may hold it in ways that cannot be cloned; of a table the rows put in. */
  readonly json: string;
  /** Where rows of the table as it was are replaced; absent where all are told. */
  readonly splice?: { readonly at: number; readonly removed: number };
}

export interface RulebookChange {
  readonly parts: readonly ToldPart[];
  /** Identities of all parts, in order. */
  readonly ids: readonly string[];
}

interface Told {
  readonly body: unknown;
  readonly position: number;
  /** Of a table, without its rows. */
  readonly json: string;
}

const rowsOf = (body: unknown): Rows | undefined => (body as Partial<MappingTable>).rows;
const withoutRows = (body: unknown): string => JSON.stringify(rowsOf(body) ? { ...(body as object), rows: [] } : body);

/** The side that has the rulebook. */
export class RulebookFeed {
  private readonly told = new Map<string, Told>();

  change(rulebook: Rulebook): RulebookChange {
    const parts = toParts(rulebook);
    const ids = parts.map(partId);
    const present = new Set(ids);
    for (const id of [...this.told.keys()]) if (!present.has(id)) this.told.delete(id);
    return { parts: parts.flatMap((part, i) => this.tell(ids[i]!, part)), ids };
  }

  /** What has to be said of a part: nothing or one thing. */
  private tell(id: string, { body, ...part }: Part): readonly ToldPart[] {
    const { position } = part;
    const before = this.told.get(id);
    if (before && before.body === body && before.position === position) return [];
    const json = withoutRows(body);
    this.told.set(id, { body, position, json });
    const isFramed = before?.json === json && before.position === position;
    const [rows, known] = [rowsOf(body), before && rowsOf(before.body)];
    if (!rows || !known) return isFramed && !rows ? [] : [{ ...part, json: rows ? JSON.stringify(body) : json }];
    const splice = difference(known, rows);
    const put = rows.slice(splice.at, rows.length - (known.length - splice.at - splice.removed));
    if (isFramed && splice.removed + put.length === 0) return [];
    return [{ ...part, json: JSON.stringify({ ...(body as object), rows: put }), splice }];
  }
}

/** Which rows of the former ones have others in their place: what both begin and end with stays. */
function difference(before: Rows, now: Rows): { readonly at: number; readonly removed: number } {
  const shorter = Math.min(before.length, now.length);
  let at = 0;
  while (at < shorter && before[at] === now[at]) at++;
  let end = 0;
  while (end < shorter - at && before[before.length - 1 - end] === now[now.length - 1 - end]) end++;
  return { at, removed: before.length - at - end };
}

/** The side that follows it. */
export class RulebookMirror {
  private readonly parts = new Map<string, Part>();
  private rulebook: Rulebook | undefined;

  take({ parts, ids }: RulebookChange): Rulebook {
    for (const { json, splice, ...part } of parts) {
      const id = partId(part);
      const body = JSON.parse(json) as object;
      this.parts.set(id, { ...part, body: splice ? this.spliced(id, body as MappingTable, splice) : body });
    }
    const present = new Set(ids);
    for (const id of [...this.parts.keys()]) if (!present.has(id)) this.parts.delete(id);
    return (this.rulebook = fromParts(
      ids.flatMap((id) => this.parts.get(id) ?? []),
      this.rulebook,
    ));
  }

  private spliced(id: string, { rows: put, ...frame }: MappingTable, { at, removed }: NonNullable<ToldPart['splice']>) {
    const { rows, ...was } = this.parts.get(id)!.body as MappingTable;
    const now = [...rows.slice(0, at), ...put, ...rows.slice(at + removed)];
    // Columns that stay are the same objects, as what is known of rows goes by them.
    const kept = Object.fromEntries(
      Object.entries(frame).map(([name, value]) => {
        const old = was[name as keyof typeof was];
        return [name, sameJson(old, value) ? old : value];
      }),
    );
    return { ...kept, rows: now };
  }
}
