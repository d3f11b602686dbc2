/** Numbers, dates and texts, and what is worked out once: what others may use. */
export { dateOfDay, dateText, offsetText } from './calendar.ts';
export { matchModeNames, matchModes, soughtKeys, keyOfStored, type MatchMode } from './match-keys.ts';
export type { Deadline } from './meter.ts';
export { onceEach } from './once-each.ts';
export { compareText } from './value.ts';
