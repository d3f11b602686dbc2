/** One write, and what rules may ask of other records: what others may use. */
export {
  AnsweredSource,
  emptySource,
  OverlaySource,
  queryKey,
  untilAnswered,
  RecordsSource,
  type RecordQuery,
  type FoundRecord,
  type RecordSource,
  type StoredRecordOf,
} from './record-source.ts';
export { receivedKey, rowsFor, sentKey } from './asked-table.ts';
export {
  AnsweredRows,
  rowsKey,
  type FoundRows,
  type RowsElsewhere,
  type RowsQuery,
  type SentKey,
} from './row-answers.ts';
export { PackedRecords, packedLine } from './packed-records.ts';
export type { Write } from './write.ts';
