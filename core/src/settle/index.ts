/** One write settled: what others may use. */
export { settle } from './settle.ts';
export type {
  Change,
  FieldState,
  Message,
  Notification,
  RelatedWrite,
  Settlement,
  SettleOptions,
  Verdict,
} from './settlement.ts';
