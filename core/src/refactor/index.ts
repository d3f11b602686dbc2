/** Renaming, and what changed between rulebooks: what others may use. */
export { ChangeCounter } from './change-count.ts';
export { diffInSteps, diffRulebooks, type PartChange } from './diff.ts';
export { rename, type Renamed, type Renaming, type TextAt } from './rename.ts';
