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
export { createCondition, createFormula, type Formula } from './language/expression/formula.ts';
export { typeName, type Type } from './language/expression/types.ts';
export { createTemplate } from './language/expression/template.ts';
export { extendScope, type Scope } from './language/expression/scope.ts';
export type { Variable } from './language/expression/checked.ts';
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
} from './language/wording/condition-rows.ts';
export { describeAt, functionHelp } from './assistance/describe.ts';
export { tokensOf, type Token } from './assistance/tokens.ts';
export { templateParts } from './language/expression/template.ts';
export { unescapeText } from './language/expression/text-literal.ts';
export { quoteText } from './language/expression/text-literal.ts';
export { functions } from './language/functions/index.ts';
export { type FieldType, isBlankStored, sameStored } from './language/field-types/field-type.ts';
export { fieldTypeOf, fieldTypes, isFieldType, linkedType, type FieldTypeKey } from './language/field-types/index.ts';
export { dateOfDay, dateText } from './values/calendar.ts';
export { groupDigits } from './language/field-types/number.ts';
export { findOption } from './language/field-types/options.ts';
export { findRuleKind, ruleKinds, type RuleKindKey } from './compile/rule-kinds/index.ts';
export { usualMomentsOf } from './compile/rule-kinds/rule-kind.ts';
export {
  listUpdateModes,
  listUpdateVerbs,
  type RuleKind,
  type ListUpdateMode,
} from './compile/rule-kinds/rule-kind.ts';
export { type Otherwise } from './compile/rule-kinds/otherwise.ts';
export { readDefault } from './compile/rule-kinds/default.ts';
export { readDerive, type DeriveStep } from './compile/rule-kinds/derive.ts';
export {
  endOf,
  readMap,
  type Ending,
  type MapOutput,
  type MapRule,
  type MapSource,
  type MatchBy,
} from './compile/rule-kinds/map-outcome.ts';
export { readValidate, type Check, type LimitOptions } from './compile/rule-kinds/validate.ts';
export { bandText, findBand, meet, type Band } from './compile/rule-kinds/bands.ts';
export { readCategorize, type Categorize } from './compile/rule-kinds/categorize.ts';
export { findingKinds, findingsOf } from './analysis/index.ts';
export { reachedBy, runTest, runTests, testedId, type TestResult } from './rule-tests/run.ts';
export { readinessOf, type Readiness } from './rule-tests/readiness.ts';
export { childListsOf, type ChildList } from './language/expression/shapes.ts';
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
} from './document/document.ts';
export { isFieldName } from './document/names.ts';
export { rename, type Renamed, type Renaming, type TextAt } from './refactor/rename.ts';
export { optionOwner } from './document/shared-options.ts';
export { cellText } from './compile/mapping/cells.ts';
export { compileTable } from './compile/mapping/table.ts';
export { coverageOf, keySourceOf, type KeySource, type TableCoverage } from './compile/mapping/coverage.ts';
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
export { canonicalInSteps, canonicalJson, sameJson } from './document/canonical.ts';
export { countChanges, diffRulebooks, type PartChange } from './refactor/diff.ts';
export { applyPatch, difference, PatchError, pointer, type Operation } from './document/patch.ts';
export { creating, editPartBody, removing, type PartBody } from './document/part-edit.ts';
export {
  fromParts,
  partId,
  partKinds,
  settingsKey,
  toParts,
  type Part,
  type PartKind,
  type PartRef,
} from './document/parts.ts';
export { entryPoints, entryPointsOf, formKey, type EntryPoint } from './compile/entry-points.ts';
export { settleBatch, type ReadQueries } from './related/batch.ts';
export { isTrialMember, trialCondition } from './related/trial.ts';
export { compileInSteps, compileProgram, scopeOf } from './compile/program.ts';
export { type CompiledRule, type Program, type TypeProgram } from './compile/compiled.ts';
export { hostNeeds, type HostNeed } from './compile/host-needs.ts';
export type { Host } from './language/functions/function.ts';
export { columnTypeKeys } from './language/field-types/column-types.ts';
export type { Deadline } from './values/meter.ts';
export { matchModeNames, matchModes, soughtKeys, keyOfStored, type MatchMode } from './values/match-keys.ts';
export { settle } from './settle/settle.ts';
export {
  findDependants,
  settleAnswered,
  settleAndPropagate,
  type ChildWrite,
  type Dependants,
  type Follower,
  type Transaction,
} from './related/propagation.ts';
export {
  AnsweredSource,
  emptySource,
  OverlaySource,
  RecordsSource,
  type RecordQuery,
  type FoundRecord,
  type RecordSource,
} from './records/record-source.ts';
export type {
  Change,
  FieldState,
  Message,
  Notification,
  RelatedWrite,
  Settlement,
  SettleOptions,
  Verdict,
} from './settle/settlement.ts';
export type { Author, TraceEntry, TraceOutcome, TraceVerdict } from './compile/trace-entry.ts';
export type { Write } from './records/write.ts';
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
} from './related/sitting.ts';
export { searchesOf, type SearchIndex } from './compile/searches.ts';
export { integrityOf, usersNamed } from './related/integrity.ts';
export { effectsOf, fieldsReadElsewhere, type Effect } from './related/effects.ts';
export { recordTitle } from './language/field-types/record-title.ts';
export { fixedOrder, moveRule, type Move, type RunsAfter } from './assistance/run-order.ts';
export { formulaOfTemplate, templateOfFormula } from './assistance/convert-step.ts';
export { entriesText, momentsText, ruleSentence } from './compile/rule-kinds/sentence.ts';
export { sentenceWords, spokenValue, type SentenceWords, type ShowValue } from './language/wording/words.ts';
export { Impact, impactWays, type ImpactFigures, type ImpactWay } from './rule-tests/impact.ts';
export type { StoredRecordOf } from './records/record-source.ts';
export { partProblem } from './document/well-formed.ts';
