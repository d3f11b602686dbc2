import { fieldTypeOf } from './index.ts';
import type { RecordData, RecordType } from '../../document/document.ts';

/** What a record is called: the values of the fields that name it, as a person reads them. Empty where all are blank. */
export function recordTitle(type: RecordType, data: RecordData): string {
  return type.title
    .flatMap((key) => {
      const field = type.fields.find((f) => f.key === key);
      const value = data[key] ?? null;
      return field && value !== null ? [fieldTypeOf(field).format(value, field)] : [];
    })
    .filter(Boolean)
    .join(' ');
}
