import { creating, type Field, type RecordType } from '@rigid-rule/core/document';
import type { Draft } from '../draft/draft.svelte.ts';

/** Makes a record type with a name as its first field; its key, or undefined where no name is given. */
export function addRecordType(draft: Draft, given: string): string | undefined {
  const name = given.trim();
  if (name === '') return undefined;
  const key = draft.freeKey('record type', name);
  const body: Omit<RecordType, 'fields'> = {
    key,
    name,
    plural: `${name}s`,
    title: ['name'],
    forms: [{ key: 'full', name: 'full form' }],
  };
  const first: Field = { key: 'name', name: 'Name', type: 'text', required: true };
  const position = draft.lastPosition('record type');
  draft.editAll(
    [
      { ref: { kind: 'record type', key }, operations: [creating(body)], position },
      { ref: { kind: 'field', key: `${key}.name` }, operations: [creating(first)], position: 0 },
    ],
    `add the record type ${name}`,
  );
  return key;
}
