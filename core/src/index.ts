/** The only way in from outside. */
export {
  catalog,
  hasErrors,
  type Diagnostic,
  type DiagnosticCode,
  type Severity,
  type TextRange,
} from './diagnostics/catalog.ts';
export { nearestName } from './diagnostics/nearest.ts';
export { createCondition, createFormula, type Formula } from './expression/formula.ts';
export { typeName, type Type } from './expression/types.ts';
export { quoteText } from './expression/text-literal.ts';
export { functions } from './functions/index.ts';
export { type FieldType, isBlankStored, sameStored } from './field-types/field-type.ts';
export { fieldTypeOf, fieldTypes, isFieldType } from './field-types/index.ts';
export { groupDigits } from './field-types/number.ts';
export { findOption } from './field-types/options.ts';
export { findRuleKind, ruleKinds } from './rule-kinds/index.ts';
export type { Otherwise, RuleKind } from './rule-kinds/rule-kind.ts';
export { bandText, findBand, meet, type Band } from './rule-kinds/bands.ts';
export { readCategorize, type Categorize } from './rule-kinds/categorize.ts';
export { findingsOf } from './analysis/index.ts';
export type { Edit, Finding, Repair } from './analysis/finding.ts';
export {
  hitPolicies,
  moments,
  repeats,
  winners,
  type Field,
  type Form,
  type Moment,
  type Option,
  type RecordData,
  type RecordType,
  type Repeat,
  type Rule,
  type Rulebook,
  type Stored,
  type User,
  type Winner,
} from './rulebook/document.ts';
export { canonicalJson } from './rulebook/canonical.ts';
export { diffRulebooks, type PartChange } from './rulebook/diff.ts';
export { applyPatch, difference, PatchError, pointer, type Operation } from './rulebook/patch.ts';
export { fromParts, partId, settingsKey, toParts, type Part, type PartKind, type PartRef } from './rulebook/parts.ts';
export { entryPoints, entryPointsOf, formKey, type EntryPoint } from './engine/entry-points.ts';
export { settleBatch, type ReadAsks } from './engine/batch.ts';
export { isTrialMember, trialCondition } from './engine/trial.ts';
export { compileProgram, scopeOf, type CompiledRule, type Program, type TypeProgram } from './engine/program.ts';
export { hostNeeds, type HostNeed } from './engine/host-needs.ts';
export type { Host } from './functions/function.ts';
export { matchModes, soughtKeys, storedKey, type MatchMode } from './values/match-keys.ts';
export { settle, type SettleOptions } from './engine/settle.ts';
export {
  findDependants,
  settleAnswered,
  settleWithWaves,
  type Dependants,
  type Follower,
  type Transaction,
} from './engine/waves.ts';
export { AnsweredWorld, emptyWorld, RecordsWorld, type Ask, type FoundRecord, type World } from './engine/world.ts';
export type {
  Author,
  Change,
  FieldState,
  Message,
  Notification,
  RelatedWrite,
  Settlement,
  TraceEntry,
  TraceOutcome,
  TraceVerdict,
  Verdict,
  Write,
} from './engine/settlement.ts';
