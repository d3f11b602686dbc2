/** Rule kinds, mapping tables, the compiled program: what others may use. */
export type { CompiledRule, Program, TypeProgram } from './compiled.ts';
export {
  entryPointClass,
  entryPoints,
  entryPointsOf,
  formKey,
  type EntryPoint,
  type EntryPointClass,
  type EntryPointKey,
  type FormEntryPointKey,
} from './entry-points.ts';
export { linkedTypes } from './readers.ts';
export { rulesByField, rulesOfField, sentFields, type FieldRules, type RulesByField } from './field-rules.ts';
export { hostNeeds, type HostNeed } from './host-needs.ts';
export { freeListName } from './list-names.ts';
export { cellText } from './mapping/cells.ts';
export { coverageOf, keySourceOf, type HeldValues, type KeySource, type TableCoverage } from './mapping/coverage.ts';
export { compileInSteps, compileProgram, recompileProgram } from './program.ts';
export { bandText, findBand, meet, type Band } from './rule-kinds/bands.ts';
export { boundaryText } from './rule-kinds/categorize-outcome.ts';
export { readCategorize, type Categorize } from './rule-kinds/categorize-outcome.ts';
export { readDefault } from './rule-kinds/default.ts';
export { readDerive, type DeriveStep } from './rule-kinds/derive.ts';
export { findRuleKind, ruleKinds, targetsOf, type RuleKindKey } from './rule-kinds/index.ts';
export {
  endOf,
  readMap,
  type Ending,
  type MapOutput,
  type MapRule,
  type MapSource,
  type MatchBy,
} from './rule-kinds/map-outcome.ts';
export type { Otherwise } from './rule-kinds/otherwise.ts';
export {
  usualMomentsOf,
  listUpdateModes,
  listUpdateVerbs,
  type RuleKind,
  type ListUpdateMode,
} from './rule-kinds/rule-kind.ts';
export { entriesText, momentsText, ruleSentence } from './rule-kinds/sentence.ts';
export { readValidate, type Check, type LimitOptions } from './rule-kinds/validate.ts';
export { searchesInSteps, type SearchIndex } from './searches.ts';
export { verdictTexts, type Author, type TraceEntry, type TraceOutcome, type TraceVerdict } from './trace-entry.ts';
