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
export { createTemplate } from './expression/template.ts';
export { extendScope, type Scope } from './expression/scope.ts';
export type { Variable } from './expression/checked.ts';
export { completionsAt, type Completion } from './assistance/completions.ts';
export {
  addRow,
  changeJoin,
  findComparison,
  printRow,
  removeItem,
  replaceRow,
  rowComparisons,
  rowsOf,
  type ConditionGroup,
  type ConditionRow,
} from './assistance/condition-rows.ts';
export { describeAt, functionHelp } from './assistance/describe.ts';
export { tokensOf, type Token } from './assistance/tokens.ts';
export { templateParts } from './expression/template.ts';
export { unescapeText } from './expression/text-literal.ts';
export { quoteText } from './expression/text-literal.ts';
export { functions } from './functions/index.ts';
export { type FieldType, isBlankStored, sameStored } from './field-types/field-type.ts';
export { fieldTypeOf, fieldTypes, isFieldType, linkedType, type FieldTypeKey } from './field-types/index.ts';
export { dateOfDay, dateText } from './values/calendar.ts';
export { groupDigits } from './field-types/number.ts';
export { findOption } from './field-types/options.ts';
export { findRuleKind, ruleKinds, type RuleKindKey } from './rule-kinds/index.ts';
export { usualMomentsOf } from './rule-kinds/rule-kind.ts';
export { ways, wayVerbs, type Otherwise, type RuleKind, type Way } from './rule-kinds/rule-kind.ts';
export { readDefault } from './rule-kinds/default.ts';
export { readDerive, type DeriveStep } from './rule-kinds/derive.ts';
export {
  endOf,
  readMap,
  type Ending,
  type MapOutput,
  type MapRule,
  type MapSource,
  type MatchBy,
} from './rule-kinds/map-outcome.ts';
export { readValidate, type Check, type LimitOptions } from './rule-kinds/validate.ts';
export { bandText, findBand, meet, type Band } from './rule-kinds/bands.ts';
export { readCategorize, type Categorize } from './rule-kinds/categorize.ts';
export { findingKinds, findingsOf } from './analysis/index.ts';
export { reachedBy, runTest, runTests, testedId, type TestResult } from './rule-tests/run.ts';
export { readinessOf, type Readiness } from './rule-tests/readiness.ts';
export { childListsOf, type ChildList } from './expression/shapes.ts';
export type { Edit, Finding, Repair } from './analysis/finding.ts';
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
  type Cell,
  type Expectation,
  type HitPolicy,
  type MappingTable,
  type Notice,
  type Rulebook,
  type RuleTest,
  type SampleRecord,
  type Stored,
  type TableColumn,
  type User,
  type Winner,
} from './rulebook/document.ts';
export { isFieldName } from './rulebook/names.ts';
export { rename, type Renamed, type Renaming, type TextAt } from './rulebook/rename.ts';
export { optionOwner } from './rulebook/shared-options.ts';
export { cellText } from './mapping/cells.ts';
export { compileTable } from './mapping/table.ts';
export { coverageOf, keySourceOf, type KeySource, type TableCoverage } from './mapping/coverage.ts';
export { cellToSheet, type SheetColumn } from './formats/cell-text.ts';
export {
  columnOfHeading,
  planImport,
  readCsv,
  readSheetCell,
  sheetColumn,
  tableToCsv,
  tableToLines,
  type ImportPlan,
  type RestOfRows,
  type RowPlan,
} from './formats/table-csv.ts';
export { tablesFromDmn, tablesToDmn } from './formats/dmn.ts';
export { rulebookMarkdown, rulebookText, type TextBlock } from './formats/rulebook-text.ts';
export { canonicalInSteps, canonicalJson, sameJson } from './rulebook/canonical.ts';
export { countChanges, diffRulebooks, type PartChange } from './rulebook/diff.ts';
export { applyPatch, difference, PatchError, pointer, type Operation } from './rulebook/patch.ts';
export { creating, editPartBody, removing, type PartBody } from './rulebook/part-edit.ts';
export {
  fromParts,
  partId,
  partKinds,
  settingsKey,
  toParts,
  type Part,
  type PartKind,
  type PartRef,
} from './rulebook/parts.ts';
export { entryPoints, entryPointsOf, formKey, type EntryPoint } from './engine/entry-points.ts';
export { settleBatch, type ReadAsks } from './engine/batch.ts';
export { isTrialMember, trialCondition } from './engine/trial.ts';
export {
  compileInSteps,
  compileProgram,
  scopeOf,
  type CompiledRule,
  type Program,
  type TypeProgram,
} from './engine/program.ts';
export { hostNeeds, type HostNeed } from './engine/host-needs.ts';
export type { Host } from './functions/function.ts';
export { columnTypeKeys } from './field-types/column-types.ts';
export type { Deadline } from './values/meter.ts';
export { matchModeNames, matchModes, soughtKeys, keyOfStored, type MatchMode } from './values/match-keys.ts';
export { settle } from './engine/settle.ts';
export {
  findDependants,
  settleAnswered,
  settleWithWaves,
  type ChildWrite,
  type Dependants,
  type Follower,
  type Transaction,
} from './engine/waves.ts';
export {
  AnsweredWorld,
  emptyWorld,
  OverlayWorld,
  RecordsWorld,
  type Ask,
  type FoundRecord,
  type World,
} from './engine/world.ts';
export type {
  Author,
  Change,
  FieldState,
  Message,
  Notification,
  RelatedWrite,
  Settlement,
  SettleOptions,
  TraceEntry,
  TraceOutcome,
  TraceVerdict,
  Verdict,
  Write,
} from './engine/settlement.ts';
export {
  judge,
  overruled,
  seenOf,
  storedOf,
  typeInto,
  type Difference,
  type Judged,
  type Seen,
  type Typed,
} from './engine/sitting.ts';
export { searchesOf, type SearchIndex } from './engine/searches.ts';
export { integrityOf, usersNamed } from './engine/integrity.ts';
export { effectsOf, fieldsReadElsewhere, type Effect } from './engine/effects.ts';
export { recordTitle } from './rulebook/record-title.ts';
export { fixedOrder, moveRule, type Move, type RunsAfter } from './assistance/run-order.ts';
export { formulaOfTemplate, templateOfFormula } from './assistance/convert-step.ts';
export { entriesText, momentsText, ruleSentence } from './rule-kinds/sentence.ts';
export { sentenceWords, spokenValue, type SentenceWords, type ShowValue } from './assistance/words.ts';
export { Impact, impactWays, type ImpactFigures, type ImpactWay } from './rule-tests/impact.ts';
export type { StoredRecordOf } from './engine/world.ts';
export { partProblem } from './rulebook/well-formed.ts';
