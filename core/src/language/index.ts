/** Types, field types, functions and formulas: what others may use. */
export type { Variable } from './expression/checked.ts';
export { createCondition, createFormula, type Formula } from './expression/formula.ts';
export { extendScope, type Scope } from './expression/scope.ts';
export { childListsOf, type ChildList } from './expression/shapes.ts';
export { createTemplate, templateParts } from './expression/template.ts';
export { unescapeText, quoteText } from './types/text-literal.ts';
export { typeName, type Type } from './types/types.ts';
export { columnTypeKeys, columnTypeOf } from './field-types/column-types.ts';
export { type FieldType, isBlankStored, sameStored } from './field-types/field-type.ts';
export { fieldTypeOf, fieldTypes, isFieldType, linkedType, type FieldTypeKey } from './field-types/index.ts';
export { groupDigits } from './field-types/number.ts';
export { findOption } from './field-types/options.ts';
export { recordTitle } from './field-types/record-title.ts';
export type { Host } from './types/host.ts';
export { functions } from './functions/index.ts';
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
} from './wording/condition-rows.ts';
export { sentenceWords, type SentenceWords } from './wording/words.ts';
export { optionList } from './wording/option-list.ts';
export { becomes, isolated } from './wording/isolated.ts';
export { spokenValue, writtenOrBlank, writtenValue } from './wording/written.ts';
export { plainWriting, type Place, type Writing } from './types/writing.ts';
