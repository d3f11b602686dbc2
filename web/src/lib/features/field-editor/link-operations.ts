import { freeListName } from '@rigid-rule/core/compile';
import type { Field, Operation, RecordType, Rulebook } from '@rigid-rule/core/document';

/** Links a lookup of `type` to a record type. The list at its other end gets a name of its own where another has the usual one. */
export function linkOperations(
  field: Field,
  recordType: string,
  type: RecordType,
  rulebook: Rulebook,
): readonly Operation[] {
  const children = field.children === undefined ? freeListName({ ...field, recordType }, type, rulebook) : undefined;
  return [
    { op: 'add', path: '/recordType', value: recordType },
    ...(children === undefined ? [] : [{ op: 'add', path: '/children', value: children } as const]),
  ];
}
