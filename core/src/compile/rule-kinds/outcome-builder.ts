/** Gathers what the formulas of an outcome depend on while a kind compiles it. */
import { type Diagnostic, type DiagnosticCode, diagnostic, hasErrors, nowhere } from '../../diagnostics/catalog.ts';
import { nearestName } from '../../diagnostics/nearest.ts';
import type { Expression } from '../../language/expression/ast.ts';
import { givenTexts } from '../../language/expression/given-texts.ts';
import type { Read, RelatedRead, Uses, Variable } from '../../language/expression/checked.ts';
import type { Environment } from '../../language/expression/runtime.ts';
import { type Formula, createCondition, createFormula } from '../../language/expression/formula.ts';
import type { Scope } from '../../language/expression/scope.ts';
import { tableAsValue } from '../../language/expression/table-as-value.ts';
import { type Template, createTemplate } from '../../language/expression/template.ts';
import { type Type, fits, typeName } from '../../language/types/types.ts';
import { fieldTypeOf } from '../../language/field-types/index.ts';
import { findOption, optionNames } from '../../language/field-types/options.ts';
import type { OptionNames } from '../../language/types/types.ts';
import type { Writing } from '../../language/types/writing.ts';
import { spokenValue } from '../../language/wording/written.ts';
import type { Field, RecordType, Stored } from '../../document/document.ts';
import type { CompiledOutcome, FieldConstraints, PlacedFormula, PlacedOption, Step } from './rule-kind.ts';
import type { Otherwise } from './otherwise.ts';
import { type SlotIndex, slotAt } from '../../document/slots.ts';

export interface Target {
  readonly slot: SlotIndex;
  readonly field: Field;
}

/** Whether a formula's type can become the field's: a number can become text; a date in words has to be written out. */
export function typeProblem(type: Type, field: Field, scope: Scope, text: string): Diagnostic | undefined {
  const wanted = scope.fields.get(field.name)?.type ?? fieldTypeOf(field).typeOf(field);
  if (becomes(type, wanted)) return undefined;
  const table = tableAsValue(type, text, scope);
  if (table) return table;
  return wanted.kind === 'text' && Object.hasOwn(writtenOut, type.kind)
    ? textProblem(field.name, type, text)
    : resultProblem(field.name, type, wanted, text);
}

/** How values that are no texts are written as one; the pattern says in which of their many forms. */
const writtenOut: Readonly<Record<string, (text: string) => string>> = {
  date: (text) => `as text(${text}, "yyyy-MM-dd")`,
  'date time': (text) => `as text(${text}, "yyyy-MM-dd HH:mm")`,
  time: (text) => `as text(${text}, "HH:mm")`,
  days: (text) => `string(${text})`,
  years: (text) => `string(${text})`,
};

const textProblem = (field: string, found: Type, text: string): Diagnostic =>
  diagnostic(
    'type.text',
    { from: 0, to: text.length },
    { field, found: typeName(found), nearest: writtenOut[found.kind]!(text.trim()) },
  );

function becomes(type: Type, wanted: Type): boolean {
  if (fits(type, wanted)) return true;
  if (wanted.kind === 'text') return type.kind === 'number' || isOneOf(type, wanted);
  // Options of another field that share names with these: each value is checked when the rule runs.
  if (wanted.kind === 'option' && type.kind === 'option')
    return type.options.names.some((name) => wanted.options.names.includes(name));
  if (wanted.kind === 'date') return type.kind === 'date time' || isOneOf(type, wanted);
  // One option stands for the set of it; a list of one for the one (DMN's coercion to and from a singleton list).
  if (wanted.kind === 'list') return becomes(type, wanted.item);
  return isOneOf(type, wanted);
}

const isOneOf = (type: Type, wanted: Type): boolean => type.kind === 'list' && becomes(type.item, wanted);

const resultProblem = (field: string, found: Type, wanted: Type, text: string): Diagnostic =>
  diagnostic(
    'type.result',
    { from: 0, to: text.length },
    { field, expected: typeName(wanted), found: typeName(found) },
  );

/** The stored form of a constant, worked out once; absent where the field cannot hold it. */
export function storedConstant(value: unknown, field: Field): { readonly stored?: Stored } {
  const coerced = fieldTypeOf(field).coerce(value, field);
  return 'value' in coerced ? { stored: coerced.value } : {};
}

/** A result as people know it: the name of an option rather than its key. */
export function resultName(result: string | number, field: Field | undefined, writing: Writing): string {
  if (!field) return String(result);
  const coerced = fieldTypeOf(field).coerce(result, field);
  return 'value' in coerced ? spokenValue(field, coerced.value, writing) : String(result);
}

export class OutcomeBuilder {
  readonly diagnostics: Diagnostic[] = [];
  readonly reads: Read[] = [];
  readonly writes: string[] = [];
  readonly tables = new Set<string>();
  readonly recordType: RecordType;
  readonly scope: Scope;
  private readonly formulas: PlacedFormula[] = [];
  private readonly options: PlacedOption[] = [];
  private readonly columns: CompiledOutcome['columns'][number][] = [];
  private readonly related: RelatedRead[] = [];
  private clock = false;
  private user = false;
  private change = false;

  constructor(recordType: RecordType, scope: Scope) {
    this.recordType = recordType;
    this.scope = scope;
  }

  report(code: DiagnosticCode, path: string, data: Diagnostic['data'] = {}): void {
    this.diagnostics.push(diagnostic(code, nowhere, data, path));
  }

  formula(text: string, path: string, variables: readonly Variable[] = [], scope = this.scope): Formula {
    return this.take(createFormula(text, scope, variables), path);
  }

  condition(text: string, path: string): Formula {
    return this.take(createCondition(text, this.scope), path);
  }

  template(
    text: string,
    path: string,
    gaps: boolean,
    variables: readonly Variable[] = [],
    scope = this.scope,
  ): Template {
    const template = createTemplate(text, scope, gaps, variables);
    this.diagnostics.push(...template.diagnostics.map((d) => ({ ...d, path })));
    template.formulas.forEach((formula, i) => {
      this.formulas.push({ path, at: template.at[i]!, formula });
      this.uses(formula, formula.reads);
    });
    return template;
  }

  /** A text with fields that is only read once all is settled: what it names neither wakes the rule nor is waited for. */
  message(text: string, path: string): (env: Environment) => string {
    const template = createTemplate(text, this.scope, true);
    this.diagnostics.push(...template.diagnostics.map((d) => ({ ...d, path })));
    template.formulas.forEach((formula, i) => this.formulas.push({ path, at: template.at[i]!, formula }));
    const { evaluate } = template;
    const isPlain = !/[{}]/.test(text);
    return (env) => {
      const said = isPlain ? undefined : evaluate?.(env);
      return typeof said === 'string' ? said : text;
    };
  }

  private take(formula: Formula, path: string): Formula {
    this.diagnostics.push(...formula.diagnostics.map((d) => ({ ...d, path })));
    this.formulas.push({ path, at: 0, formula });
    this.uses(formula, formula.reads);
    return formula;
  }

  /** A field that an earlier step of the rule wrote is not read from outside. */
  private uses(uses: Uses, reads: readonly Read[]): void {
    const { fields } = this.recordType;
    this.reads.push(...reads.filter((r) => r.previous || !this.writes.includes(fields[r.field.slot]!.key)));
    this.related.push(...uses.related);
    for (const table of uses.tables) this.tables.add(table);
    this.clock ||= uses.clock;
    this.user ||= uses.user;
    this.change ||= uses.change;
  }

  /** A field that the outcome names; reported where it is not there. */
  target(key: string, path: string): Target | undefined {
    const slot = slotAt(this.recordType.fields.findIndex((f) => f.key === key));
    const field = this.recordType.fields[slot];
    if (!field) this.report('rule.no-target', path, { field: key });
    return field && { slot, field };
  }

  /** As `target`, and noted as written. */
  written(key: string, path: string): Target | undefined {
    const target = this.target(key, path);
    if (target && !this.writes.includes(key)) this.writes.push(key);
    return target;
  }

  /** What the formula at the path gives becomes the value of a field. */
  gives(path: string, field: Field): void {
    if (!field.options) return;
    const at = this.formulas.findIndex((f) => f.path === path);
    if (at >= 0) this.formulas[at] = { ...this.formulas[at]!, gives: optionNames(field) };
  }

  /** The text at the path, or each of the list there, is an option of the field. */
  isOption(path: string, options: Field | OptionNames | undefined): void {
    if (options && 'names' in options) this.options.push({ path, options });
    else if (options?.options) this.options.push({ path, options: optionNames(options) });
  }

  /** What is done where there is no value: a value that is set has to be one of the field's. */
  otherwise(what: Otherwise, field: Field, path: string): void {
    this.isOption(`${path}/value`, field);
    if (what.do !== 'set') return;
    const coerced = fieldTypeOf(field).coerce(what.value, field);
    if (!('problem' in coerced)) return;
    if (field.options)
      this.report('option.unknown', `${path}/value`, { field: field.name, option: String(what.value) });
    else this.report('otherwise.value', `${path}/value`, { field: field.name, problem: coerced.problem });
  }

  /** Cells of a table's column are held against options, or become them. */
  columnIs(table: string, column: string, options: OptionNames | undefined): void {
    if (options) this.columns.push({ table, column, options });
  }

  fits(formula: Formula, field: Field, path: string): void {
    this.gives(path, field);
    const problem = formula.evaluate && typeProblem(formula.type, field, this.scope, formula.text);
    if (problem) this.diagnostics.push({ ...problem, path });
    else if (formula.expression && field.options) this.optionTexts(formula.expression, field, path);
  }

  /** A text that the formula gives has to be an option; keys are taken as well as names. */
  private optionTexts(expression: Expression, field: Field, path: string): void {
    const names = field.options!.map((o) => o.name);
    for (const { text, range } of givenTexts(expression)) {
      if (text === '' || findOption(field, text)) continue;
      const nearest = nearestName(text, names);
      const data = { field: field.name, option: text, ...(nearest ? { nearest } : {}) };
      this.diagnostics.push(diagnostic('option.unknown', range, data, path));
    }
  }

  finish(compiled: { readonly steps?: readonly Step[]; readonly demands?: FieldConstraints } = {}): CompiledOutcome {
    const { diagnostics, reads, related, tables, writes, clock, user, change, formulas, options, columns } = this;
    const base = { diagnostics, reads, related, tables, writes, clock, user, change, formulas, options, columns };
    return hasErrors(diagnostics) ? base : { ...base, ...compiled };
  }
}
