/**
 * Faults that are none: the rule means the same with and without. Told by looking at every region of the values that the
 * changed comparison reads, or because nothing reads what was changed; never by having tried in vain.
 */
import { numberOf } from '../analysis/reasoning.ts';
import { unreadColumns } from '../analysis/field-findings.ts';
import type { Program, TypeProgram } from '../compile/compiled.ts';
import { canonicalJson } from '../document/canonical.ts';
import type { MappingTable, Stored } from '../document/document.ts';
import { childrenOf, walk, type Expression, type UnaryTest } from '../language/expression/ast.ts';
import { createFormula, type Formula } from '../language/expression/formula.ts';
import type { Value } from '../values/value.ts';
import type { Mutant } from './mutants.ts';
import { apartFrom, around, comparisonsIn } from './values.ts';
import type { SlotIndex } from '../document/slots.ts';

/** Combinations of regions that are looked at; where there are more, nothing is said. */
const mostRegions = 20_000;

export function equalByReasoning(program: Program, mutant: Mutant, type: TypeProgram | undefined): boolean {
  if (mutant.changed && type) return sameInEveryRegion(mutant.changed, type);
  if (mutant.entryPoint !== undefined && type) return actsNever(program, mutant, type);
  if (mutant.part.kind === 'table') return onlyUnread(program, mutant);
  return false;
}

/** The entry point has no moment at which the rule would act. */
function actsNever({ rulebook }: Program, { part, entryPoint }: Mutant, type: TypeProgram): boolean {
  const rule = rulebook.rules.find((r) => r.key === part.key);
  const own = type.entryPoints.get(entryPoint!)?.moments;
  return rule !== undefined && own !== undefined && !own.some((m) => rule.moments.includes(m));
}

/** The rows differ in columns only that no rule reads. */
function onlyUnread(program: Program, { part, rulebook }: Mutant): boolean {
  const unread = unreadColumns(program).get(part.key);
  if (!unread || unread.size === 0) return false;
  const seen = (table: MappingTable | undefined): string =>
    canonicalJson(
      table?.rows.map((row) => Object.fromEntries(Object.entries(row).filter(([column]) => !unread.has(column)))),
    );
  return seen(program.tables.get(part.key)?.table) === seen(rulebook.tables?.find((t) => t.key === part.key));
}

interface Variable {
  readonly slot: SlotIndex;
  readonly previous: boolean;
  readonly values: readonly Value[];
}

/** Whether two comparisons give the same for every value that their fields may have. */
export function sameInEveryRegion({ from, to, truthOnly }: NonNullable<Mutant['changed']>, type: TypeProgram): boolean {
  const [a, b] = [createFormula(from, type.scope), createFormula(to, type.scope)];
  if (!a.evaluate || !b.evaluate || !isPlainFormula(a) || !isPlainFormula(b)) return false;
  const variables = variablesOf([a, b], type);
  const total = variables.reduce((n, v) => n * v.values.length, 1);
  if (total > mostRegions) return false;
  const blank = type.slots.map(({ field, type: t }) => t.read(null, field));
  const env = { record: [...blank], previous: [...blank], host: {} };
  for (let i = 0; i < total; i++) {
    let rest = i;
    for (const { slot, previous, values } of variables) {
      (previous ? env.previous : env.record)[slot] = values[rest % values.length]!;
      rest = Math.floor(rest / values.length);
    }
    const [x, y] = [a.evaluate(env), b.evaluate(env)];
    if (truthOnly ? (x === true) !== (y === true) : x !== y) return false;
  }
  return true;
}

/** Only fields of the record itself, compared with constants: regions between the constants are all alike. */
export function isPlainFormula({ expression, related, tables, clock, user, change }: Formula): boolean {
  if (!expression || related.length > 0 || tables.size > 0 || clock || user || change) return false;
  return isPlain(expression);
}

const plainKinds: ReadonlySet<Expression['kind']> = new Set(['name', 'path', 'comparison', 'and', 'or', 'list', 'if']);
const plainFunctions: ReadonlySet<string> = new Set(['not', 'is blank']);

function isPlain(e: Expression): boolean {
  if (isConstant(e)) return true;
  if (e.kind === 'comparison' && !isConstant(e.left) && !isConstant(e.right)) return false;
  if (e.kind === 'between') return isPlain(e.operand) && isConstant(e.low) && isConstant(e.high);
  if (e.kind === 'in') return isPlain(e.operand) && e.tests.every(isPlainTest);
  if (!plainKinds.has(e.kind) && !(e.kind === 'call' && plainFunctions.has(e.name))) return false;
  return childrenOf(e).every(isPlain);
}

function isPlainTest(t: UnaryTest): boolean {
  if (t.kind === 'interval') return isConstant(t.low) && isConstant(t.high);
  if (t.kind === 'compare') return isConstant(t.value);
  return t.value.kind === 'list' ? t.value.items.every(isConstant) : isConstant(t.value);
}

/** Those among whose neighbours a region can be tried: of moments, times and durations there are none here. */
const isConstant = (e: Expression): boolean =>
  (e.kind === 'literal' && (e.value === null || typeof e.value === 'boolean' || typeof e.value === 'string')) ||
  numberOf(e) !== undefined;

function variablesOf(formulas: readonly Formula[], type: TypeProgram): Variable[] {
  const reads = new Map(
    formulas.flatMap((f) => f.reads).map((r) => [`${r.field.slot} ${String(r.previous)}`, r] as const),
  );
  const constants = new Map<number, Stored[]>();
  for (const { expression } of formulas)
    walk(expression!, (e) => {
      for (const { slot, boundary, closed } of comparisonsIn(e, type))
        constants.set(slot, [
          ...(constants.get(slot) ?? []),
          ...closed.flatMap((side) =>
            around(boundary, type.slots[slot]!.field, type.writing, side).map((t) => t.value),
          ),
        ]);
      if (e.kind === 'literal' && typeof e.value === 'string')
        for (const { field } of reads.values())
          constants.set(field.slot, [...(constants.get(field.slot) ?? []), e.value]);
    });
  return [...reads.values()].map(({ field: { slot }, previous }): Variable => {
    const { field, type: fieldType } = type.slots[slot]!;
    const stored: Stored[] = [
      null,
      ...(field.options ?? []).map((o) => o.key),
      ...fieldType.boundaryValues(field),
      ...(constants.get(slot) ?? []),
      ...apartFrom(constants.get(slot) ?? [], field),
    ];
    const taken = stored.flatMap((v) => {
      const coerced = fieldType.coerce(v, field);
      return 'value' in coerced ? [coerced.value] : [];
    });
    const distinct = [...new Map(taken.map((v) => [JSON.stringify(v), v])).values()];
    return { slot, previous, values: distinct.map((v) => fieldType.read(v, field)) };
  });
}
