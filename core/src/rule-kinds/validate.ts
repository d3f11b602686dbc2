import { diagnostic, hasErrors, nowhere, type Diagnostic } from '../diagnostics/catalog.ts';
import type { Read } from '../expression/check.ts';
import { createCondition } from '../expression/formula.ts';
import type { Scope } from '../expression/scope.ts';
import type { RecordType } from '../rulebook/document.ts';
import { looseList, looseObject, looseText, looseTexts, oneOf } from './read-outcome.ts';
import type { CompiledOutcome, Constraint, RuleKind } from './rule-kind.ts';

export interface Check {
  /** *must* stops the save, *should* warns. */
  readonly hold: 'must' | 'should';
  /** FEEL, true or false; unknown violates nothing. */
  readonly formula: string;
  readonly message: string;
  /** Key of the field that the message stands on; empty: the record. */
  readonly field: string;
}

/** What has to hold of the settled record while the condition holds. */
export interface Validate {
  readonly checks: readonly Check[];
  readonly required: readonly string[];
  readonly hidden: readonly string[];
}

export function readValidate(outcome: unknown): Validate {
  const o = looseObject(outcome);
  return {
    checks: looseList(o['checks']).map((c) => ({
      hold: oneOf(c['hold'], ['must', 'should'] as const),
      formula: looseText(c['formula']),
      message: looseText(c['message']),
      field: looseText(c['field']),
    })),
    required: looseTexts(o['required']),
    hidden: looseTexts(o['hidden']),
  };
}

function compile(outcome: unknown, recordType: RecordType, scope: Scope): CompiledOutcome {
  const { checks, required, hidden } = readValidate(outcome);
  const diagnostics: Diagnostic[] = [];
  const reads: Read[] = [];
  const constraints: Constraint[] = [];
  let clock = false;
  const slotOf = (key: string, path: string): number => {
    const slot = recordType.fields.findIndex((f) => f.key === key);
    if (slot < 0) diagnostics.push(diagnostic('rule.no-target', nowhere, { field: key }, path));
    return slot;
  };
  checks.forEach((c, i) => {
    const path = `/outcome/checks/${i}`;
    const formula = createCondition(c.formula, scope);
    diagnostics.push(...formula.diagnostics.map((d) => ({ ...d, path: `${path}/formula` })));
    if (c.message.trim() === '') diagnostics.push(diagnostic('validate.no-message', nowhere, {}, `${path}/message`));
    reads.push(...formula.reads);
    clock ||= formula.clock;
    const field = c.field ? { field: slotOf(c.field, `${path}/field`) } : {};
    if (formula.evaluate)
      constraints.push({
        ...field,
        severity: c.hold === 'must' ? 'stop' : 'warn',
        message: c.message,
        holds: formula.evaluate,
      });
  });
  const demands = {
    constraints,
    required: required.map((key, i) => slotOf(key, `/outcome/required/${i}`)),
    hidden: hidden.map((key, i) => slotOf(key, `/outcome/hidden/${i}`)),
  };
  const base = { diagnostics, reads, writes: [], clock };
  return hasErrors(diagnostics) ? base : { ...base, demands };
}

function sentence(outcome: unknown, recordType: RecordType): string {
  const { checks, required, hidden } = readValidate(outcome);
  const names = (keys: readonly string[]): string =>
    keys.map((k) => recordType.fields.find((f) => f.key === k)?.name ?? k).join(', ');
  return [
    ...checks.map((c) => `${c.formula} ${c.hold} hold (“${c.message}”)`),
    ...(required.length > 0 ? [`${names(required)} required`] : []),
    ...(hidden.length > 0 ? [`${names(hidden)} hidden`] : []),
  ].join('; ');
}

export const validate: RuleKind = {
  key: 'validate',
  name: 'Validate',
  help: 'What must or should hold, is required or hidden.',
  compile,
  sentence,
  targets(outcome) {
    const { checks, required, hidden } = readValidate(outcome);
    return [...new Set([...checks.map((c) => c.field), ...required, ...hidden].filter(Boolean))];
  },
  differences(before, after, recordType) {
    const [a, b] = [sentence(before, recordType), sentence(after, recordType)];
    return a === b ? [] : [`${a} → ${b}`];
  },
  begin: (target): Validate => ({ checks: [], required: [target.key], hidden: [] }),
};
