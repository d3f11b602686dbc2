/** Numbers, dates and texts: what others may use. */
export { dateOfDay, dateText } from './calendar.ts';
export { matchModeNames, matchModes, soughtKeys, keyOfStored, type MatchMode } from './match-keys.ts';
export type { Deadline } from './meter.ts';
