import { fieldTypeOf } from '../../language/field-types/index.ts';
import { becomes } from '../../language/wording/isolated.ts';
import { enumerate, sentences } from '../../language/wording/prose.ts';
import type { SentenceWords } from '../../language/wording/words.ts';
import type { Variable } from '../../language/expression/checked.ts';
import type { Compiled } from '../../language/expression/runtime.ts';
import { type Scope, extendScope } from '../../language/expression/scope.ts';
import { textType } from '../../language/types/types.ts';
import type { RecordType } from '../../document/document.ts';
import { nameOfField } from '../../document/names.ts';
import { isBlank } from '../../values/value.ts';
import { OutcomeBuilder } from './outcome-builder.ts';
import { looseList, looseObject, looseText, oneOf } from './read-outcome.ts';
import {
  type CompiledOutcome,
  type Effect,
  type OutcomeText,
  type RuleKind,
  type Step,
  type ListUpdateMode,
  listUpdateModes,
  listUpdateVerbs,
} from './rule-kind.ts';

export interface DeriveStep {
  /** Key of the field written; empty for a scratch value. */
  readonly target: string;
  /** Name of the scratch value, where there is no target. */
  readonly scratch: string;
  /** FEEL; empty where a template stands instead. */
  readonly formula: string;
  readonly template?: string;
  /** What a blank result does to the target; `gaps`, for templates: a blank inside leaves a gap. */
  readonly blank: 'clear' | 'leave' | 'gaps';
  /** What becomes of options that a multi-select holds already. */
  readonly way?: ListUpdateMode;
  /** A value that does not fit is left out with a warning. */
  readonly lenient?: true;
}

/** Values worked out by formulas, in steps; each step sees the ones before it. */
export interface Derive {
  readonly steps: readonly DeriveStep[];
}

export function readDerive(outcome: unknown): Derive {
  const steps = looseList(looseObject(outcome)['steps']).map((s): DeriveStep => ({
    target: looseText(s['target']),
    scratch: looseText(s['scratch']),
    formula: looseText(s['formula']),
    ...(typeof s['template'] === 'string' ? { template: s['template'] } : {}),
    blank: oneOf(s['blank'], ['clear', 'leave', 'gaps'] as const),
    ...(listUpdateModes.includes(s['way'] as ListUpdateMode) ? { way: s['way'] as ListUpdateMode } : {}),
    ...(s['lenient'] === true ? { lenient: true } : {}),
  }));
  return { steps };
}

function compile(outcome: unknown, recordType: RecordType, scope: Scope): CompiledOutcome {
  const { steps } = readDerive(outcome);
  const builder = new OutcomeBuilder(recordType, scope);
  if (steps.length === 0) builder.report('outcome.empty', '/outcome/steps');
  const compiled: Step[] = [];
  const scratch: Variable[] = [];
  let inner = scope;
  steps.forEach((step, i) => {
    const path = `/outcome/steps/${i}`;
    let evaluate: Compiled | undefined;
    let type = textType;
    if (step.template === undefined) {
      const formula = builder.formula(step.formula, `${path}/formula`, scratch, inner);
      ({ evaluate, type } = formula);
      const field = recordType.fields.find((f) => f.key === step.target);
      if (field) builder.fits(formula, field, `${path}/formula`);
    } else ({ evaluate } = builder.template(step.template, `${path}/template`, step.blank === 'gaps', scratch, inner));
    if (!step.target) {
      const stackIndex = scratch.length;
      scratch.push({ name: step.scratch, type });
      inner = extendScope(inner, [step.scratch]);
      if (evaluate) compiled.push((env) => [{ act: 'keep', stackIndex, value: evaluate(env) }]);
      return;
    }
    const target = builder.written(step.target, `${path}/target`);
    if (!target || !evaluate) return;
    const { slot, field } = target;
    const { way, lenient } = step;
    if (way && way !== 'replace' && fieldTypeOf(field).chooses !== 'many')
      builder.report('map.not-list', `${path}/way`, { field: field.name });
    const leavesBlank = step.blank === 'leave' || (way !== undefined && way !== 'replace');
    const blankEffect: readonly Effect[] = leavesBlank
      ? [{ target: slot, act: 'leave', cause: 'blank result' }]
      : [{ target: slot, act: 'set', value: null, cause: 'blank result' }];
    const plain = way === undefined && !lenient;
    const more = { ...(way ? { way } : {}), ...(lenient ? { lenient } : {}) };
    compiled.push((env) => {
      const value = evaluate(env);
      if (isBlank(value)) return blankEffect;
      return plain ? [{ target: slot, act: 'set', value }] : [{ target: slot, act: 'set', value, ...more }];
    });
  });
  return builder.finish({ steps: compiled });
}

function clauses(outcome: unknown, recordType: RecordType, words: SentenceWords): string[] {
  const { steps } = readDerive(outcome);
  const lenient = steps.filter((s) => s.target && s.blank === 'leave');
  const parts = steps.map((s) => {
    const field = recordType.fields.find((f) => f.key === s.target);
    const value = s.template === undefined ? words.value(s.formula, field) : `“${s.template}”`;
    return `${s.target ? nameOfField(recordType.fields, s.target) : s.scratch} ${listUpdateVerbs[s.way ?? 'replace']} ${value}`;
  });
  const kept = enumerate([...new Set(lenient.map((s) => nameOfField(recordType.fields, s.target)))]);
  return [
    parts.join('; then '),
    lenient.length === 0
      ? ''
      : steps.length === 1
        ? 'left as it is where that is blank'
        : `${kept} ${lenient.length > 1 ? 'are left as they are' : 'is left as it is'} where that is blank`,
  ];
}

export const derive: RuleKind<'derive'> = {
  key: 'derive',
  name: 'Derive',
  help: 'A value is worked out from others, in steps.',
  compile,
  clauses,
  texts: (outcome) =>
    readDerive(outcome).steps.map((s, i): OutcomeText =>
      s.template === undefined
        ? { path: `/steps/${i}/formula`, text: s.formula }
        : { path: `/steps/${i}/template`, text: s.template, template: true },
    ),
  structureOf: (outcome) => ({
    blanks: () =>
      readDerive(outcome)
        .steps.filter(
          (s) => s.target && s.template === undefined && s.blank === 'clear' && (s.way ?? 'replace') === 'replace',
        )
        .map((s) => s.formula),
  }),
  targets: (outcome) => [
    ...new Set(
      readDerive(outcome)
        .steps.map((s) => s.target)
        .filter(Boolean),
    ),
  ],
  differences(before, after, recordType, words) {
    const [a, b] = [before, after].map((o) => sentences(clauses(o, recordType, words)));
    return a === b ? [] : [`steps ${becomes(a!, b!)}`];
  },
  createOutcome: (target): Derive => ({ steps: [{ target: target.key, scratch: '', formula: '', blank: 'clear' }] }),
};
