/** Renaming, and what changed between rulebooks: what others may use. */
export { countChanges, diffInSteps, diffRulebooks, type PartChange } from './diff.ts';
export { rename, type Renamed, type Renaming, type TextAt } from './rename.ts';
