/** Values that stand in a test, as they are read: of the record under test, of those beside it, of those that are written. */
import type { Field, RelatedExpectation, Rulebook, RuleTest, Stored } from '../document/document.ts';
import { nameOfField } from '../document/names.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
import { recordTitle } from '../language/field-types/record-title.ts';

/** Stands for the record under test where records beside it link to it. */
export const testedId = 'tested';

/** The records of a test, of which its values may speak. */
type TestRecords = Pick<RuleTest, 'recordType' | 'related'>;

/** How a value is written; empty for a blank one. */
export type Shown = (field: Field, value: Stored) => string;

/** A value of a field, whatever it is; a link by the title of the record that stands beside the test. */
export function testValueText(
  recordType: string,
  key: string,
  value: unknown,
  test: TestRecords,
  rulebook: Rulebook,
  shown: Shown,
): string {
  if (value === null || value === undefined || value === '') return 'blank';
  const field = rulebook.recordTypes.find((t) => t.key === recordType)?.fields.find((f) => f.key === key);
  if (field?.recordType !== undefined) return recordTitleIn(test, field.recordType, value, rulebook);
  const coerced = field && fieldTypeOf(field).coerce(value, field);
  return field && coerced && 'value' in coerced ? shown(field, coerced.value) || 'blank' : JSON.stringify(value);
}

/** A record by its title, where it stands beside the test. */
export function recordTitleIn(test: TestRecords, recordType: string, key: unknown, rulebook: Rulebook): string {
  if (key === testedId && recordType === test.recordType) return 'the record under test';
  const record = test.related?.find((r) => r.recordType === recordType && r.key === key);
  const type = rulebook.recordTypes.find((t) => t.key === recordType);
  return (record && type && recordTitle(type, record.data)) || String(key);
}

/** A value that a rule gives to another record: `Contact Adair: Region becomes South`. */
export function relatedText(
  { recordType, key, field, value }: RelatedExpectation,
  test: TestRecords,
  rulebook: Rulebook,
  shown: Shown,
): string {
  const type = rulebook.recordTypes.find((t) => t.key === recordType);
  const title = recordTitleIn(test, recordType, key, rulebook);
  const becomes = testValueText(recordType, field, value, test, rulebook, shown);
  return `${type?.name ?? recordType} ${title}: ${nameOfField(type?.fields ?? [], field)} becomes ${becomes}`;
}
