import { becomes } from '../../language/wording/isolated.ts';
import { sentences } from '../../language/wording/prose.ts';
import type { SentenceWords } from '../../language/wording/words.ts';
import type { RecordType } from '../../document/document.ts';
import type { Scope } from '../../language/expression/scope.ts';
import { OutcomeBuilder } from './outcome-builder.ts';
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
  const builder = new OutcomeBuilder(recordType, scope);
  const formula = builder.formula(value, '/outcome/value');
  const found = builder.written(target, '/outcome/target');
  if (!found) return builder.finish();
  builder.fits(formula, found.field, '/outcome/value');
  const { evaluate } = formula;
  return builder.finish({
    steps: [(env) => [{ target: found.slot, act: 'fill', value: evaluate?.(env) ?? null }]],
  });
}

function clauses(outcome: unknown, recordType: RecordType, words: SentenceWords): string[] {
  const { target, value } = readDefault(outcome);
  const field = recordType.fields.find((f) => f.key === target);
  return [`${field?.name ?? target} starts as ${words.value(value, field)}`];
}

export const fillBlank: RuleKind<'default'> = {
  key: 'default',
  name: 'Default',
  help: 'What is still blank is filled in.',
  compile,
  clauses,
  replaces: false,
  usualMoments: ['opening', 'creating'],
  structureOf: () => ({ fillsOnly: true }),
  targets: (outcome) => [readDefault(outcome).target],
  texts: (outcome) => {
    const { value } = readDefault(outcome);
    return [{ path: '/value', text: value }];
  },
  differences(before, after, recordType, words) {
    const [a, b] = [before, after].map((o) => sentences(clauses(o, recordType, words)));
    return a === b ? [] : [becomes(a!, b!)];
  },
  createOutcome: (target): Default => ({ target: target.key, value: '' }),
};
