/** Values worth trying for the fields that a rule reads: around each boundary, each option, blank. */
import { numberOf } from '../analysis/reasoning.ts';
import type { CompiledRule, Program, TypeProgram } from '../compile/compiled.ts';
import { type ComparisonOperator, type Expression, type Range, walk } from '../language/expression/ast.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
import { createFormula, type Formula } from '../language/expression/formula.ts';
import type { Scope } from '../language/expression/scope.ts';
import type { Writing } from '../language/types/writing.ts';
import { spokenValue, writtenValue, writtenLoose } from '../language/wording/written.ts';
import type { OutcomeStructure } from '../compile/rule-kinds/outcome-structure.ts';
import type { Field, RecordData, Stored } from '../document/document.ts';
import { dayNumber, FeelDate, temporalText } from '../values/calendar.ts';
import { Decimal, add, normalize } from '../values/number.ts';
import { inRange, isTemporal, type FeelRange, type Value } from '../values/value.ts';
import type { KeyCell } from '../compile/mapping/cells.ts';
import type { CompiledTable } from '../compile/mapping/table.ts';
import type { SlotIndex } from '../document/slots.ts';

/** Table rows beyond this are not each tried. */
const mostRows = 500;

/** The moment of suggested tests; and its day number. */
export const testMoment = '2026-05-04T09:00:00Z';
const testDay = dayNumber(new FeelDate(2026, 5, 4));

export interface Trial {
  readonly value: Stored;
  readonly why: string;
  /** It stands at or beside a constant that the field is compared with. */
  readonly boundary?: true;
  /** It is two steps away: in the same region as its neighbour. */
  readonly outer?: true;
}

/** The step that a field states; 1 where it states none. */
export const stepOf = (field: Field): number => fieldTypeOf(field).step?.(field) ?? 1;

/**
 * Three-value boundary analysis (ISTQB Foundation syllabus v4.0, 4.2.2): each boundary value of both partitions with its
 * neighbours. Where one partition ends and the next begins at 11, the boundary values are 10 and 11: 9, 10, 11, 12.
 * `closed`: 11 itself belongs to what lies below it, so they are 11 and 12: 10, 11, 12, 13. The step is the field's.
 */
export function around(boundary: number, field: Field, writing: Writing, closed?: boolean): Trial[] {
  const step = stepOf(field);
  const fieldType = fieldTypeOf(field);
  const at = (by: number): Stored => {
    if (fieldType.at) return fieldType.at(boundary + by);
    const sum = add(boundary, normalize(new Decimal(step).times(by)) ?? 0);
    return typeof sum === 'number' ? sum : boundary;
  };
  const [one, two] = closed ? [0, 1] : [-1, 0];
  const why = (by: number): string =>
    by === 0
      ? `at ${spokenValue(field, at(0), writing)}`
      : `${Math.abs(by) > 1 ? 'two steps' : 'just'} ${by < 0 ? 'below' : 'above'} ${spokenValue(field, at(0), writing)}`;
  return [one - 1, one, two, two + 1].map((by) => ({
    value: at(by),
    why: why(by),
    boundary: true,
    ...(by === one - 1 || by === two + 1 ? { outer: true } : {}),
  }));
}

/**
 * Values that lie in no region of constants and their neighbours: between two numbers of a field that counts in no steps,
 * and texts before, behind and between those that texts are compared with. Not each is a value of the field.
 */
export function apartFrom(constants: readonly Stored[], field: Field): readonly Stored[] {
  const texts = constants.filter((v) => typeof v === 'string');
  const apart = texts.length > 0 ? ['!', ...texts.map((t) => `${t}a`)] : [];
  const numbers = [...new Set(constants.filter((v) => typeof v === 'number'))].sort((a, b) => a - b);
  if (numbers.length === 0 || fieldTypeOf(field).step?.(field) !== undefined) return apart;
  return [
    ...apart,
    numbers[0]! - 1,
    numbers.at(-1)! + 1,
    ...numbers.slice(1).map((n, i) => numbers[i]! + (n - numbers[i]!) / 2),
  ];
}

/** Values to try for each slot that a rule reads. */
export function trialsOf(
  r: CompiledRule,
  type: TypeProgram,
  program: Program,
): ReadonlyMap<SlotIndex, readonly Trial[]> {
  const found = new Map<SlotIndex, Map<string, Trial>>();
  const put = (slot: SlotIndex, trials: readonly Trial[]): void => {
    const { field, type: fieldType } = type.slots[slot]!;
    const own = found.get(slot) ?? new Map<string, Trial>();
    found.set(slot, own);
    for (const t of trials) {
      const coerced = fieldType.coerce(t.value, field);
      if ('problem' in coerced) continue;
      const key = JSON.stringify(coerced.value);
      const known = own.get(key);
      if (!known || (known.outer && !t.outer)) own.set(key, { ...t, value: coerced.value });
    }
  };
  const slots = new Set([...r.reads.present, ...r.reads.previous]);
  // What is compared with the clock turns at the moment of the test.
  if (r.placed.formulas.some((p) => p.formula.clock))
    for (const slot of slots) {
      const { field, type: fieldType } = type.slots[slot]!;
      if (fieldType.at) put(slot, around(testDay, field, type.writing, true));
    }
  for (const e of expressionsOf(r, type.scope)) comparedIn(e, type, put);
  const source = slotNamed(r.kind?.source?.(r.rule.outcome), type);
  const { division, pairs, table } = r.structure;
  if (division && source !== undefined) {
    const { bands, groups } = division;
    for (const { from, fromOpen, to, toClosed } of bands) {
      if (from !== undefined) put(source, around(from, type.slots[source]!.field, type.writing, fromOpen));
      if (to !== undefined) put(source, around(to, type.slots[source]!.field, type.writing, toClosed));
    }
    for (const g of groups)
      put(
        source,
        g.values.map((v) => ({ value: v, why: v })),
      );
  }
  if (pairs) pairTrials(pairs, type, put);
  if (table) rowTrials(table, type, program, put);
  for (const slot of slots) {
    const { field, type: fieldType } = type.slots[slot]!;
    const edges = fieldType.boundaryValues(field);
    put(
      slot,
      edges.map((value) => ({ value, why: edgeText(writtenValue(field, value, type.writing)) })),
    );
    put(slot, [{ value: null, why: 'blank' }]);
    // A phone number has no edges, and must be one all the same for a rule to act on it. A link would name nobody.
    if (found.get(slot)!.size === 1 && !fieldType.links && !fieldType.users)
      put(slot, [{ value: fieldType.example as Stored, why: 'a usual one' }]);
  }
  return new Map([...found].map(([slot, trials]) => [slot, [...trials.values()]]));
}

/** What an expression compares its fields with. */
function comparedIn(e: Expression, type: TypeProgram, put: Put): void {
  walk(e, (x) => {
    for (const { slot, boundary, closed } of comparisonsIn(x, type))
      for (const side of closed) put(slot, around(boundary, type.slots[slot]!.field, type.writing, side));
    for (const [slot, text] of textsIn(x, type)) put(slot, [{ value: text, why: text }]);
  });
}

/** A value for each region of the fields that formulas read, by slot: stored, those that the field takes. */
export function trialsOfFormulas(
  formulas: readonly Formula[],
  type: TypeProgram,
): ReadonlyMap<SlotIndex, readonly Stored[]> {
  const found = new Map<SlotIndex, Stored[]>();
  const put: Put = (slot, trials) => {
    const { field, type: fieldType } = type.slots[slot]!;
    const own = found.get(slot) ?? [];
    found.set(slot, own);
    for (const { value, outer } of trials) {
      if (outer) continue;
      const coerced = fieldType.coerce(value, field);
      if ('value' in coerced) own.push(coerced.value);
    }
  };
  for (const { expression, reads } of formulas) {
    if (expression) comparedIn(expression, type, put);
    for (const { field } of reads) {
      const edges = type.slots[field.slot]!.type.boundaryValues(type.slots[field.slot]!.field);
      put(
        field.slot,
        [null, ...edges].map((value) => ({ value, why: '' })),
      );
    }
  }
  return found;
}

const edgeText = (text: string): string => (text.length > 30 ? `of ${text.length} characters` : text);

type Put = (slot: SlotIndex, trials: readonly Trial[]) => void;

function pairTrials({ formula, from }: NonNullable<OutcomeStructure['pairs']>, type: TypeProgram, put: Put): void {
  const slot = slotNamed(formula, type);
  if (slot === undefined) return;
  put(
    slot,
    from.map((value) => ({ value, why: value })),
  );
  if (!type.slots[slot]!.field.options) put(slot, [{ value: 'no such value', why: 'an unknown value' }]);
}

function rowTrials(
  { key, keys }: NonNullable<OutcomeStructure['table']>,
  type: TypeProgram,
  program: Program,
  put: Put,
): void {
  const table = program.tables.get(key);
  for (const [i, { column }] of (table?.keyColumns ?? []).entries()) {
    const slot = slotNamed(keys[column.key], type);
    if (slot === undefined) continue;
    for (const cells of firstRows(table!)) put(slot, trialsOfCell(cells[i]!, type.slots[slot]!.field, type.writing));
    const { field } = type.slots[slot]!;
    if (fieldTypeOf(field).free) put(slot, [{ value: 'no such value', why: 'an unknown key' }]);
  }
}

const firstRows = (table: CompiledTable): readonly (readonly KeyCell[])[] =>
  Array.from({ length: Math.min(table.rowCount, mostRows) }, (_, row) => table.keyCells(row));

/** Around both ends of a range, as far as they are numbers or days. */
const endsOf = (
  { low, high, lowIncluded, highIncluded }: FeelRange,
  field: Field,
  writing: Writing,
): readonly Trial[] =>
  [
    { place: placeOf(low), closed: !lowIncluded },
    { place: placeOf(high), closed: highIncluded },
  ].flatMap(({ place, closed }) => (place === undefined ? [] : around(place, field, writing, closed)));

/** Where an end lies on the line of its field. */
const placeOf = (v: Value): number | undefined =>
  typeof v === 'number' ? v : v instanceof FeelDate ? dayNumber(v) : undefined;

/** What stands in a key cell, or around the ends of its range; nothing where it takes anything or says it by tests. */
function trialsOfCell(cell: KeyCell, field: Field, writing: Writing): readonly Trial[] {
  if (cell.kind === 'values')
    return cell.values.map((v) => {
      const value = (isTemporal(v) ? temporalText(v) : v) as Stored;
      return { value, why: `row of ${writtenLoose(v, writing)}` };
    });
  if (cell.kind === 'blank') return [{ value: null, why: 'blank' }];
  return cell.kind === 'range' ? endsOf(cell.range, field, writing) : [];
}

const isWithin = (range: FeelRange, value: Stored, field: Field): boolean =>
  inRange(fieldTypeOf(field).read(value, field), range) === true;

/** A field's value that a row is tried with, among those of its other fields. */
export interface RowTrial extends Trial {
  readonly slot: SlotIndex;
  /** A value that the row takes, for each of its fields: by key. */
  readonly others: RecordData;
}

/**
 * The rows of a table that is asked with several fields, each with values of its own: what is tried around the ends of
 * one row says nothing of a row for other values of the other fields.
 */
export function rowTrialsOf(r: CompiledRule, type: TypeProgram, program: Program): readonly RowTrial[] {
  const { table: asked } = r.structure;
  const table = asked && program.tables.get(asked.key);
  const slots = table?.keyColumns.map(({ column }) => slotNamed(asked!.keys[column.key], type)) ?? [];
  if (!table || slots.filter((s) => s !== undefined).length < 2) return [];
  return firstRows(table).flatMap((cells, n) => {
    const own = cells.flatMap((cell, i): { slot: SlotIndex; taken: Stored; trials: readonly Trial[] }[] => {
      const slot = slots[i];
      if (slot === undefined) return [];
      const { field, type: fieldType } = type.slots[slot]!;
      const trials = trialsOfCell(cell, field, type.writing).flatMap((t): Trial[] => {
        const coerced = fieldType.coerce(t.value, field);
        return 'value' in coerced ? [{ ...t, value: coerced.value }] : [];
      });
      const taken = cell.kind === 'range' ? trials.find((t) => isWithin(cell.range, t.value, field)) : trials[0];
      return taken ? [{ slot, taken: taken.value, trials }] : [];
    });
    const others = Object.fromEntries(own.map(({ slot, taken }) => [type.slots[slot]!.field.key, taken]));
    return own.flatMap(({ slot, trials }) =>
      trials.map((t): RowTrial => ({ ...t, slot, others, why: `${t.why}, row ${n + 1}` })),
    );
  });
}

export function slotNamed(formula: string | undefined, type: TypeProgram): SlotIndex | undefined {
  const binding = type.scope.fields.get(formula?.trim() ?? '');
  return binding?.slot;
}

export function expressionsOf(r: CompiledRule, scope: Scope): Expression[] {
  const texts = (r.kind?.texts(r.rule.outcome) ?? []).filter((t) => !t.template).map((t) => t.text);
  const own = texts.flatMap((text) => createFormula(text, scope).expression ?? []);
  return r.conditionFormula?.expression ? [r.conditionFormula.expression, ...own] : own;
}

function slotOfName(e: Expression, type: TypeProgram): SlotIndex | undefined {
  return e.kind === 'name' || e.kind === 'path' ? type.scope.fields.get(e.name)?.slot : undefined;
}

/** A constant that a field is compared with; `closed` as `around` takes it, both for a value that stands alone. */
interface Cut {
  readonly slot: SlotIndex;
  readonly boundary: number;
  readonly closed: readonly boolean[];
}

const sides: Readonly<Record<ComparisonOperator, readonly boolean[]>> = {
  '<': [false],
  '>=': [false],
  '<=': [true],
  '>': [true],
  '=': [false, true],
  '!=': [false, true],
};
const turned: Readonly<Record<ComparisonOperator, ComparisonOperator>> = {
  '<': '>',
  '>=': '<=',
  '<=': '>=',
  '>': '<',
  '=': '=',
  '!=': '!=',
};

/** The constants that the fields of an expression are compared with. */
export function comparisonsIn(e: Expression, type: TypeProgram): Cut[] {
  const found: Cut[] = [];
  const put = (field: Expression, value: Expression, operator: ComparisonOperator): void => {
    const [slot, boundary] = [slotOfName(field, type), numberOf(value)];
    if (slot !== undefined && boundary !== undefined) found.push({ slot, boundary, closed: sides[operator] });
  };
  const interval = (of: Expression, r: Pick<Range, 'low' | 'high' | 'lowIncluded' | 'highIncluded'>): void => {
    put(of, r.low, r.lowIncluded ? '>=' : '>');
    put(of, r.high, r.highIncluded ? '<=' : '<');
  };
  if (e.kind === 'comparison') {
    put(e.left, e.right, e.operator);
    put(e.right, e.left, turned[e.operator]);
  }
  if (e.kind === 'between') interval(e.operand, { low: e.low, high: e.high, lowIncluded: true, highIncluded: true });
  if (e.kind === 'in')
    for (const t of e.tests) {
      if (t.kind === 'interval') interval(e.operand, t);
      else if (t.kind === 'compare') put(e.operand, t.value, t.operator);
      else if (t.value.kind === 'range') interval(e.operand, t.value);
      else if (t.value.kind === 'list') for (const item of t.value.items) put(e.operand, item, '=');
      else put(e.operand, t.value, '=');
    }
  return found;
}

function textsIn(e: Expression, type: TypeProgram): (readonly [SlotIndex, string])[] {
  if (e.kind !== 'comparison') return [];
  for (const [field, value] of [
    [e.left, e.right],
    [e.right, e.left],
  ] as const) {
    const slot = slotOfName(field, type);
    if (slot !== undefined && value.kind === 'literal' && typeof value.value === 'string') return [[slot, value.value]];
  }
  return [];
}
