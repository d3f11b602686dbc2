/** The rulebook as it is stored: what others may use. */
export { canonicalInSteps, canonicalJson, sameJson } from './canonical.ts';
export {
  hitPolicies,
  moments,
  optionMarks,
  repeats,
  winners,
  type Field,
  type Form,
  type Moment,
  type Option,
  type OptionMark,
  type RecordData,
  type RecordType,
  type Repeat,
  type Rule,
  type Acceptance,
  type AcceptedStep,
  type Claim,
  type Cell,
  type Expectation,
  type HitPolicy,
  type MappingTable,
  type Notice,
  type RelatedExpectation,
  type Rulebook,
  type RuleTest,
  type SampleRecord,
  type Stored,
  type TableColumn,
  type TestFamily,
  type User,
  type Winner,
} from './document.ts';
export { isFieldName, nameOfField, reservedWords } from './names.ts';
export { creating, editPartBody, removing, type PartBody } from './part-edit.ts';
export { fromParts, partId, partKinds, settingsKey, toParts, type Part, type PartKind, type PartRef } from './parts.ts';
export { applyPatch, difference, PatchError, pointer, type Operation } from './patch.ts';
export { optionOwner } from './shared-options.ts';
export type { SlotIndex } from './slots.ts';
export { memberTitle, partProblem } from './well-formed.ts';
