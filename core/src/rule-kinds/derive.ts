import { diagnostic, hasErrors, nowhere, type Diagnostic } from '../diagnostics/catalog.ts';
import type { Read, Variable } from '../expression/check.ts';
import type { Compiled } from '../expression/compile.ts';
import { createFormula } from '../expression/formula.ts';
import { extendScope, type Scope } from '../expression/scope.ts';
import { fits, typeName, type Type } from '../expression/types.ts';
import { fieldTypeOf } from '../field-types/index.ts';
import type { Field, RecordType } from '../rulebook/document.ts';
import { isBlank } from '../values/value.ts';
import { looseList, looseObject, looseText, oneOf } from './read-outcome.ts';
import type { CompiledOutcome, Effect, RuleKind } from './rule-kind.ts';

export interface DeriveStep {
  /** Key of the field written; empty for a scratch value. */
  readonly target: string;
  /** Name of the scratch value, where there is no target. */
  readonly scratch: string;
  /** FEEL. */
  readonly formula: string;
  /** What a blank result does to the target. */
  readonly blank: 'clear' | 'leave';
}

/** Values worked out by formulas, in steps; each step sees the ones before it. */
export interface Derive {
  readonly steps: readonly DeriveStep[];
}

export function readDerive(outcome: unknown): Derive {
  const steps = looseList(looseObject(outcome)['steps']).map((s) => ({
    target: looseText(s['target']),
    scratch: looseText(s['scratch']),
    formula: looseText(s['formula']),
    blank: oneOf(s['blank'], ['clear', 'leave'] as const),
  }));
  return { steps };
}

/** Whether a formula's type can become the field's: formulas of any type can become text. */
export function typeProblem(type: Type, field: Field, text: string): Diagnostic | undefined {
  const wanted = fieldTypeOf(field).typeOf(field);
  if (fits(type, wanted) || (wanted.kind === 'text' && ['number', 'date', 'date time'].includes(type.kind)))
    return undefined;
  const data = { field: field.name, expected: typeName(wanted), found: typeName(type) };
  return diagnostic('type.result', { from: 0, to: text.length }, data);
}

function compile(outcome: unknown, recordType: RecordType, scope: Scope): CompiledOutcome {
  const { steps } = readDerive(outcome);
  const diagnostics: Diagnostic[] =
    steps.length === 0 ? [diagnostic('derive.empty', nowhere, {}, '/outcome/steps')] : [];
  const reads: Read[] = [];
  const writes: string[] = [];
  const compiled: ((env: Parameters<Compiled>[0]) => readonly Effect[])[] = [];
  const scratch: Variable[] = [];
  let clock = false;
  let inner = scope;
  steps.forEach((step, i) => {
    const path = `/outcome/steps/${i}`;
    const formula = createFormula(step.formula, inner, scratch);
    diagnostics.push(...formula.diagnostics.map((d) => ({ ...d, path: `${path}/formula` })));
    // A field that an earlier step wrote is not read from outside.
    reads.push(...formula.reads.filter((r) => r.previous || !writes.includes(recordType.fields[r.field.slot]!.key)));
    clock ||= formula.clock;
    const { evaluate } = formula;
    if (!step.target) {
      const place = scratch.length;
      scratch.push({ name: step.scratch, type: formula.type });
      inner = extendScope(inner, [step.scratch]);
      if (evaluate) compiled.push((env) => [{ act: 'keep', place, value: evaluate(env) }]);
      return;
    }
    const slot = recordType.fields.findIndex((f) => f.key === step.target);
    const field = recordType.fields[slot];
    if (!field)
      return void diagnostics.push(diagnostic('rule.no-target', nowhere, { field: step.target }, `${path}/target`));
    const problem = evaluate && typeProblem(formula.type, field, step.formula);
    if (problem) diagnostics.push({ ...problem, path: `${path}/formula` });
    writes.push(step.target);
    if (evaluate)
      compiled.push((env) => {
        const value = evaluate(env);
        if (!isBlank(value)) return [{ target: slot, act: 'set', value }];
        return step.blank === 'leave'
          ? [{ target: slot, act: 'leave', cause: 'blank result' }]
          : [{ target: slot, act: 'set', value: null, cause: 'blank result' }];
      });
  });
  const base = { diagnostics, reads, writes: [...new Set(writes)], clock };
  return hasErrors(diagnostics) ? base : { ...base, steps: compiled };
}

const nameOf = (key: string, recordType: RecordType): string =>
  recordType.fields.find((f) => f.key === key)?.name ?? key;

function sentence(outcome: unknown, recordType: RecordType): string {
  const parts = readDerive(outcome).steps.map((s) => {
    const blank = s.target && s.blank === 'leave' ? ', left as it is where that is blank' : '';
    return `${s.target ? nameOf(s.target, recordType) : s.scratch} becomes ${s.formula}${blank}`;
  });
  return `${parts.join('; then ')}.`;
}

export const derive: RuleKind = {
  key: 'derive',
  name: 'Derive',
  help: 'A value is worked out from others, in steps.',
  compile,
  sentence,
  targets: (outcome) => [
    ...new Set(
      readDerive(outcome)
        .steps.map((s) => s.target)
        .filter(Boolean),
    ),
  ],
  differences(before, after, recordType) {
    const [a, b] = [sentence(before, recordType), sentence(after, recordType)];
    return a === b ? [] : [`steps ${a} → ${b}`];
  },
  begin: (target): Derive => ({ steps: [{ target: target.key, scratch: '', formula: 'null', blank: 'clear' }] }),
};
