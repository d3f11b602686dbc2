/** Steps of a derive rule as they are edited: what each may name, and what it becomes by an edit. */
import { formulaOfTemplate, templateOfFormula } from '@rigid-rule/core/assistance';
import type { DeriveStep } from '@rigid-rule/core/compile';
import { createFormula, extendScope, type Scope, type Variable } from '@rigid-rule/core/language';

export interface StepContext {
  /** Scratch values that the step may name: those of the steps before it. */
  readonly variables: readonly Variable[];
  readonly scope: Scope;
}

const within = (scope: Scope, variables: readonly Variable[]): Scope =>
  variables.length === 0
    ? scope
    : extendScope(
        scope,
        variables.map((v) => v.name),
      );

export function stepContexts(steps: readonly DeriveStep[], scope: Scope): readonly StepContext[] {
  let variables: readonly Variable[] = [];
  return steps.map(({ target, scratch, formula }) => {
    const own = { variables, scope: within(scope, variables) };
    if (!target && scratch)
      variables = [...variables, { name: scratch, type: createFormula(formula, own.scope, variables).type }];
    return own;
  });
}

/** The step with a value that only the steps below see, under a name that none has. */
export function asScratch(steps: readonly DeriveStep[], i: number): DeriveStep {
  const taken = steps.map((s) => s.scratch);
  let n = 1;
  while (taken.includes(`Scratch ${n}`)) n++;
  const { template: _, ...rest } = steps[i]!;
  return { ...rest, target: '', scratch: `Scratch ${n}` };
}

/**
 * A formula becomes a text with fields, and a text a formula, saying the same; undefined where it cannot.
 * @param anyway It is begun anew where it cannot.
 */
export function inOtherForm(step: DeriveStep, scope: Scope, anyway = false): DeriveStep | undefined {
  const { template, ...rest } = step;
  if (template === undefined) {
    const text = templateOfFormula(rest.formula, scope);
    return text === undefined && !anyway ? undefined : { ...rest, template: text ?? '', formula: '' };
  }
  const formula = formulaOfTemplate(template, scope);
  if (formula === undefined && !anyway) return undefined;
  return { ...rest, formula: formula ?? '', blank: rest.blank === 'gaps' ? 'clear' : rest.blank };
}

/** The list with one of it elsewhere; as it is where there is no such place. */
export function moved<T>(list: readonly T[], from: number, to: number): readonly T[] {
  if (to < 0 || to >= list.length) return list;
  return list.toSpliced(from, 1).toSpliced(to, 0, list[from]!);
}
