import { diagnostic, hasErrors, nowhere } from '../diagnostics/catalog.ts';
import { createFormula } from '../expression/formula.ts';
import type { Scope } from '../expression/scope.ts';
import type { RecordType } from '../rulebook/document.ts';
import { typeProblem } from './derive.ts';
import { looseObject, looseText } from './read-outcome.ts';
import type { CompiledOutcome, RuleKind } from './rule-kind.ts';

/** Fills what is still blank and was not sent. */
export interface Default {
  readonly target: string;
  /** FEEL; a constant is one as well. */
  readonly value: string;
}

export function readDefault(outcome: unknown): Default {
  const o = looseObject(outcome);
  return { target: looseText(o['target']), value: looseText(o['value']) };
}

function compile(outcome: unknown, recordType: RecordType, scope: Scope): CompiledOutcome {
  const { target, value } = readDefault(outcome);
  const slot = recordType.fields.findIndex((f) => f.key === target);
  const field = recordType.fields[slot];
  if (!field) {
    const missing = diagnostic('rule.no-target', nowhere, { field: target }, '/outcome/target');
    return { diagnostics: [missing], reads: [], writes: [] };
  }
  const formula = createFormula(value, scope);
  const problem = formula.evaluate && typeProblem(formula.type, field, value);
  const all = [...formula.diagnostics, ...(problem ? [problem] : [])].map((d) => ({ ...d, path: '/outcome/value' }));
  const base = { diagnostics: all, reads: formula.reads, writes: [target], clock: formula.clock };
  const { evaluate } = formula;
  if (hasErrors(all) || !evaluate) return base;
  return { ...base, steps: [(env) => [{ target: slot, act: 'fill', value: evaluate(env) }]] };
}

function sentence(outcome: unknown, recordType: RecordType): string {
  const { target, value } = readDefault(outcome);
  return `${recordType.fields.find((f) => f.key === target)?.name ?? target} starts as ${value} where it is blank.`;
}

export const fillBlank: RuleKind = {
  key: 'default',
  name: 'Default',
  help: 'What is still blank is filled in.',
  compile,
  sentence,
  targets: (outcome) => [readDefault(outcome).target],
  differences(before, after, recordType) {
    const [a, b] = [sentence(before, recordType), sentence(after, recordType)];
    return a === b ? [] : [`${a} → ${b}`];
  },
  begin: (target): Default => ({ target: target.key, value: 'null' }),
};
