/**
 * What only the other records know of a settled one: that those that it links to and the users that it names are there,
 * and that nobody else has its unique values. One meaning for the server, which asks its database, and the bench, which
 * asks the samples.
 */
import { fieldTypeOf, linkedType } from '../language/field-types/index.ts';
import type { Field, RecordType } from '../document/document.ts';
import type { Change, Message } from '../settle/settlement.ts';
import { queryKey, type RecordQuery, type FoundRecord } from '../records/record-source.ts';

export interface Around {
  /** Undefined where the question has no answer yet. */
  readonly answer: (ask: RecordQuery) => readonly FoundRecord[] | undefined;
  /** Whether there is a user of this email address. */
  readonly isUser: (email: string) => boolean;
}

/**
 * What stands against storing these changes, each on its field; nothing where all is well. `id`: of the record itself.
 * `asks`: what has to be answered before that is known.
 */
export function integrityOf(
  recordType: RecordType,
  id: string,
  changes: readonly Change[],
  recordTypes: readonly RecordType[],
  { answer, isUser }: Around,
): { readonly messages: readonly Message[]; readonly asks: readonly RecordQuery[] } {
  const messages: Message[] = [];
  const asks = new Map<string, RecordQuery>();
  const found = (ask: RecordQuery): readonly FoundRecord[] | undefined => {
    const records = answer(ask);
    if (!records) asks.set(queryKey(ask), ask);
    return records;
  };
  for (const { field: key, to, author } of changes) {
    const field = recordType.fields.find((f) => f.key === key);
    if (!field || typeof to === 'object' || to === '') continue;
    const text = refusal(recordType, field, id, String(to), recordTypes, { answer: found, isUser });
    if (text === undefined) continue;
    messages.push({ severity: 'stop', field: key, text, ...(author.by === 'rule' ? { rule: author.rule } : {}) });
  }
  return { messages, asks: [...asks.values()] };
}

function refusal(
  recordType: RecordType,
  field: Field,
  id: string,
  value: string,
  recordTypes: readonly RecordType[],
  { answer, isUser }: Around,
): string | undefined {
  const linked = linkedType(field);
  if (linked !== undefined) {
    const type = recordTypes.find((t) => t.key === linked);
    if (answer({ kind: 'record', recordType: linked, id: value })?.length === 0)
      return `There is no ${type?.name.toLowerCase() ?? 'record'} ${value}.`;
  }
  if (fieldTypeOf(field).users && !isUser(value)) return `There is no user ${value}.`;
  if (!field.unique) return undefined;
  const others = answer({ kind: 'match', recordType: recordType.key, field: field.key, mode: 'exact', value });
  const other = others?.find((r) => r.id !== id);
  return other && `${recordType.name} ${other.id} has this ${field.name} already; it has to be the only one.`;
}

/** Email addresses that changes name in fields that hold users. */
export const usersNamed = (recordType: RecordType, changes: readonly Change[]): readonly string[] =>
  changes.flatMap(({ field: key, to }) =>
    typeof to === 'string' && to !== '' && recordType.fields.some((f) => f.key === key && fieldTypeOf(f).users)
      ? [to]
      : [],
  );
