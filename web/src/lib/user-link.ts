/** The record that stands for a user among the records: the one of the rulebook's user record type with the same email. */
import type { Field, RecordType, Rulebook } from '@rigid-rule/core/document';
import { fieldTypeOf } from '@rigid-rule/core/language';

export interface UserLink {
  readonly recordType: RecordType;
  /** The field that holds the email. */
  readonly field: Field;
}

export function userLinkOf({ userRecordType, recordTypes }: Rulebook): UserLink | undefined {
  const recordType = recordTypes.find((t) => t.key === userRecordType);
  const field = recordType?.fields.find((f) => fieldTypeOf(f).reaches && !fieldTypeOf(f).users);
  return recordType && field ? { recordType, field } : undefined;
}
