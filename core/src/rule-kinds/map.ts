import type { Scope } from '../expression/scope.ts';
import { withVariables, type Compiled, type Environment } from '../expression/compile.ts';
import type { Formula } from '../expression/formula.ts';
import { extendScope } from '../expression/scope.ts';
import type { Type } from '../expression/types.ts';
import { fieldTypeOf } from '../field-types/index.ts';
import type { CellValue, Field, RecordType, Rulebook } from '../rulebook/document.ts';
import { matchModeNames, matchModes, type MatchMode } from '../values/match-keys.ts';
import { foldedKey } from '../values/unicode-case.ts';
import { isBlank, isList, RecordRef, valueToText, type Value } from '../values/value.ts';
import { OutcomeBuilder } from './outcome-builder.ts';
import { looseList, looseObject, looseText, oneOf, otherwiseEffect, readOtherwise } from './read-outcome.ts';
import {
  ways,
  type Branch,
  type Cause,
  type CompiledOutcome,
  type Effect,
  type Fault,
  type Otherwise,
  type OutcomeText,
  type RuleKind,
  type Way,
} from './rule-kind.ts';

/** One way to find a record: a field of it, what it has to match, and how. */
export interface MatchBy {
  /** Key of a field of the record type that is searched. */
  readonly field: string;
  /** FEEL. */
  readonly formula: string;
  readonly mode: MatchMode;
}

export type MapSource =
  /** Option to option (or text to text) of one formula; case and spaces do not count. */
  | {
      readonly by: 'pairs';
      readonly formula: string;
      readonly pairs: readonly { readonly from: string; readonly to: CellValue | readonly string[] | null }[];
    }
  /** Rows of a mapping table; a formula for each key column. */
  | { readonly by: 'table'; readonly table: string; readonly keys: Readonly<Record<string, string>> }
  /** A record found by its fields: the first way that finds any decides. */
  | { readonly by: 'match'; readonly recordType: string; readonly ways: readonly MatchBy[] };

export interface MapOutput {
  /** Table: key of the output column. Match: a formula over `match`, or empty for the record itself. Pairs: nothing. */
  readonly value: string;
  /** Key of the field written, on the record that `onto` names. */
  readonly target: string;
  readonly way: Way;
}

/** Values from a table, from pairs of options or from a matched record. */
export interface MapRule {
  readonly source: MapSource;
  /** Empty: this record. Key of a lookup: the record that it names. Name of a child list: each of its records. */
  readonly onto: string;
  readonly outputs: readonly MapOutput[];
  /** The key is blank; nothing was found; more than one was. */
  readonly blank: Otherwise;
  readonly none: Otherwise;
  readonly several: Otherwise;
}

export function readMap(outcome: unknown): MapRule {
  const o = looseObject(outcome);
  return {
    source: readSource(o['source']),
    onto: looseText(o['onto']),
    outputs: looseList(o['outputs']).map((out) => ({
      value: looseText(out['value']),
      target: looseText(out['target']),
      way: oneOf(out['way'], ways),
    })),
    blank: readOtherwise(o['blank']),
    none: readOtherwise(o['none']),
    several: readOtherwise(o['several']),
  };
}

function readSource(source: unknown): MapSource {
  const o = looseObject(source);
  switch (o['by']) {
    case 'table': {
      const keys = Object.entries(looseObject(o['keys'])).map(([k, v]) => [k, looseText(v)] as const);
      return { by: 'table', table: looseText(o['table']), keys: Object.fromEntries(keys) };
    }
    case 'match':
      return {
        by: 'match',
        recordType: looseText(o['recordType']),
        ways: looseList(o['ways']).map((w) => ({
          field: looseText(w['field']),
          formula: looseText(w['formula']),
          mode: oneOf(w['mode'], matchModes),
        })),
      };
    default:
      return {
        by: 'pairs',
        formula: looseText(o['formula']),
        pairs: looseList(o['pairs']).map((p) => ({
          from: looseText(p['from']),
          to: (p['to'] ?? null) as MapSourcePairTo,
        })),
      };
  }
}

type MapSourcePairTo = CellValue | readonly string[] | null;

/** What a source gives in one write. */
type Answer =
  | { readonly found: 'blank' | 'none' | 'several'; readonly because?: string }
  | {
      readonly found: 'one';
      readonly value: (output: number, env: Environment) => Value;
      readonly branch: number;
      readonly because?: string;
    };

interface Source {
  readonly ask: (env: Environment) => Answer;
  /** The type of each output, where the source knows it. */
  readonly types: readonly (Type | undefined)[];
}

const causes: Readonly<Record<'blank' | 'none' | 'several', Cause>> = {
  blank: 'blank source',
  none: 'no match',
  several: 'several matches',
};

function compile(outcome: unknown, recordType: RecordType, scope: Scope): CompiledOutcome {
  const map = readMap(outcome);
  const builder = new OutcomeBuilder(recordType, scope);
  if (map.outputs.length === 0) builder.report('map.no-output', '/outcome/outputs');
  const source = compileSource(map, builder);
  const destination = findDestination(map.onto, builder);
  if (!destination) return builder.finish();
  const targets = map.outputs.map((out, i) => {
    const path = `/outcome/outputs/${i}`;
    const target = destination.target(out.target, `${path}/target`);
    if (!target) return undefined;
    if (out.way !== 'replace' && target.field.type !== 'multi-select')
      builder.report('map.not-list', `${path}/way`, { field: target.field.name });
    return target;
  });
  if (map.source.by === 'pairs') checkPairs(map.source.pairs, targets[0]?.field, builder);
  if (!source) return builder.finish();
  const otherwise = targets.map((target, i) => target && otherwiseEffects(map, target.slot, map.outputs[i]!.way));
  const act = (env: Environment): readonly Effect[] => {
    const answer = source.ask(env);
    const effects: Effect[] = [];
    for (let i = 0; i < targets.length; i++) {
      const target = targets[i];
      if (!target) continue;
      const { way } = map.outputs[i]!;
      const effect =
        answer.found === 'one'
          ? foundEffect(target.slot, answer.value(i, env), way, answer.branch)
          : otherwise[i]![answer.found];
      effects.push(...destination.effects(env, target, effect, answer.because));
    }
    return effects;
  };
  return builder.finish({ steps: [act] });
}

function foundEffect(target: number, value: Value, way: Way, branch: number): Effect {
  if (!isBlank(value)) return { target, act: 'set', value, way, branch };
  return way === 'replace'
    ? { target, act: 'set', value, way, branch, cause: 'blank result' }
    : { target, act: 'leave', cause: 'blank result' };
}

/** What is not found adds nothing and takes nothing away. */
function otherwiseEffects(map: MapRule, target: number, way: Way): Readonly<Record<keyof typeof causes, Effect>> {
  const effect = (found: keyof typeof causes): Effect => {
    const what = map[found];
    const kept: Otherwise = what.do === 'clear' && way !== 'replace' ? { do: 'leave' } : what;
    return otherwiseEffect(target, kept, causes[found]);
  };
  return { blank: effect('blank'), none: effect('none'), several: effect('several') };
}

function compileSource(map: MapRule, builder: OutcomeBuilder): Source | undefined {
  const { source } = map;
  if (source.by === 'table') return tableSource(map, source, builder);
  if (source.by === 'match') return matchSource(map, source, builder);
  const { pairs } = source;
  const formula = builder.formula(source.formula, '/outcome/source/formula');
  if (pairs.length === 0) builder.report('map.no-pair', '/outcome/source/pairs');
  if (formula.type.kind === 'option') {
    const { options } = formula.type;
    const known = new Set(options.names.map(foldedKey));
    pairs.forEach((p, i) => {
      if (!known.has(foldedKey(p.from)))
        builder.report('option.unknown', `/outcome/source/pairs/${i}/from`, { field: options.field, option: p.from });
    });
  }
  const { evaluate } = formula;
  if (!evaluate) return undefined;
  const branchOf = new Map<string, number>();
  pairs.forEach((p, i) => {
    if (branchOf.has(foldedKey(p.from)))
      builder.report('map.pair', `/outcome/source/pairs/${i}/from`, { value: p.from, problem: 'stands here twice' });
    branchOf.set(foldedKey(p.from), i);
  });
  const values = pairs.map((p): Value => p.to);
  return {
    types: [],
    ask(env) {
      const v = evaluate(env);
      if (isBlank(v)) return { found: 'blank' };
      const branch = branchOf.get(foldedKey(valueToText(v)));
      return branch === undefined ? { found: 'none' } : { found: 'one', branch, value: () => values[branch]! };
    },
  };
}

function checkPairs(
  pairs: readonly { readonly to: MapSourcePairTo }[],
  target: Field | undefined,
  builder: OutcomeBuilder,
): void {
  if (!target) return;
  pairs.forEach(({ to }, i) => {
    const coerced = fieldTypeOf(target).coerce(to, target);
    if ('problem' in coerced)
      builder.report('map.pair', `/outcome/source/pairs/${i}/to`, { value: String(to), problem: coerced.problem });
  });
}

function tableSource(
  { outputs }: MapRule,
  source: Extract<MapSource, { by: 'table' }>,
  builder: OutcomeBuilder,
): Source | undefined {
  const table = [...builder.scope.tables.values()].find((t) => t.key === source.table);
  if (!table) {
    builder.report('map.no-table', '/outcome/source/table', { table: source.table });
    return undefined;
  }
  builder.tables.add(table.key);
  const keys = table.keys.map((column) => {
    const text = source.keys[column.key];
    const path = `/outcome/source/keys/${column.key}`;
    if (text?.trim()) return builder.formula(text, path);
    builder.report('map.no-key', path, { column: column.name });
    return undefined;
  });
  const columns = outputs.map((out, i) => {
    const at = table.outputs.findIndex((c) => c.key === out.value);
    if (at < 0) builder.report('map.no-column', `/outcome/outputs/${i}/value`, { column: out.value });
    return at;
  });
  const evaluate = keys.map((k) => k?.evaluate);
  if (!evaluate.every((e) => e !== undefined)) return undefined;
  const { key } = table;
  return {
    types: [],
    ask(env) {
      const values = evaluate.map((e) => e(env));
      if (values.every(isBlank) && !acceptsBlank(env, key, values)) return { found: 'blank' };
      const hit = env.related?.table(key)?.find(values) ?? { found: 'none' };
      if (hit.found !== 'one') return { found: hit.found };
      return { found: 'one', branch: hit.rows[0] ?? -1, value: (output) => hit.values[columns[output]!] ?? null };
    },
  };
}

/** A table may have rows for blank keys; without them a blank key is no question at all. */
const acceptsBlank = (env: Environment, table: string, values: readonly Value[]): boolean =>
  env.related?.table(table)?.find(values).found === 'one';

/** The name under which formulas of outputs know the record that was matched. */
const matchName = 'match';

function matchSource(
  { outputs }: MapRule,
  source: Extract<MapSource, { by: 'match' }>,
  builder: OutcomeBuilder,
): Source | undefined {
  const shape = builder.scope.shapes?.get(source.recordType);
  if (!shape) {
    builder.report('rule.no-type', '/outcome/source/recordType', { type: source.recordType });
    return undefined;
  }
  const searched = source.ways.map((way, i) => {
    const path = `/outcome/source/ways/${i}`;
    const formula = builder.formula(way.formula, `${path}/formula`);
    const name = shape.memberNames().find((n) => shape.member(n)?.field === way.field);
    if (name === undefined) builder.report('rule.no-target', `${path}/field`, { field: way.field });
    return { formula, way, name: name ?? way.field };
  });
  if (searched.length === 0) builder.report('map.no-key', '/outcome/source/ways', { column: shape.name });
  const type: Type = { kind: 'record', of: shape };
  const inner = extendScope(builder.scope, [matchName]);
  const formulas = outputs.map((out, i): Formula | undefined =>
    out.value.trim() === ''
      ? undefined
      : builder.formula(out.value, `/outcome/outputs/${i}/value`, [{ name: matchName, type }], inner),
  );
  return {
    types: formulas.map((f) => f?.type ?? type),
    ask(env) {
      let blank = true;
      for (const { formula, way, name } of searched) {
        const v = formula.evaluate?.(env) ?? null;
        if (isBlank(v) || isList(v)) continue;
        blank = false;
        const found = env.related?.match(source.recordType, way.field, way.mode, valueToText(v)) ?? [];
        if (found.length === 0) continue;
        const because = `${shape.name} by ${name} ${matchModeNames[way.mode]}`;
        if (found.length > 1) return { found: 'several', because: `${found.length} by ${name}` };
        const [match] = found as [RecordRef];
        return {
          found: 'one',
          branch: 0,
          because,
          value: (output, e) => ofMatch(formulas[output]?.evaluate, match, e),
        };
      }
      return { found: blank ? 'blank' : 'none' };
    },
  };
}

function ofMatch(evaluate: Compiled | undefined, match: RecordRef, env: Environment): Value {
  return evaluate ? evaluate(withVariables(env, [match])) : match;
}

interface Destination {
  target(key: string, path: string): { readonly slot: number; readonly field: Field } | undefined;
  effects(
    env: Environment,
    target: { readonly slot: number; readonly field: Field },
    effect: Effect,
    because: string | undefined,
  ): readonly Effect[];
}

/** Where the values go: this record, the one that a lookup names, or each of a child list. */
function findDestination(onto: string, builder: OutcomeBuilder): Destination | undefined {
  if (onto === '')
    return {
      target: (key, path) => builder.written(key, path),
      effects: (_env, _target, effect, because) =>
        because !== undefined && 'act' in effect && (effect.act === 'set' || effect.act === 'leave')
          ? [{ ...effect, because }]
          : [effect],
    };
  const { scope, recordType } = builder;
  const lookup = recordType.fields.find((f) => f.key === onto && f.type === 'lookup');
  const member = scope.self?.member(lookup?.name ?? onto);
  const type = member?.type.kind === 'list' ? member.type.item : member?.type;
  if (!member || type?.kind !== 'record') {
    builder.report('map.onto', '/outcome/onto', { onto });
    return undefined;
  }
  const path = lookup?.name ?? onto;
  const reach = builder.formula(path, '/outcome/onto');
  return {
    target(key, at) {
      const field = scope.book?.recordTypes.find((t) => t.key === type.of.key)?.fields.find((f) => f.key === key);
      if (!field) builder.report('rule.no-target', at, { field: key });
      return field && { slot: -1, field };
    },
    effects(env, { field }, effect) {
      if (effect.act !== 'set')
        return effect.act === 'stop' ? [{ ...effect, target: lookup ? recordType.fields.indexOf(lookup) : -1 }] : [];
      const to = reach.evaluate?.(env) ?? null;
      const refs = (isList(to) ? to : [to]).filter((v) => v instanceof RecordRef);
      const { value, way } = effect;
      return refs.map((ref) => ({ act: 'send', to: ref, field: field.key, value, ...(way ? { way } : {}) }));
    },
  };
}

const fieldName = (key: string, recordType: RecordType): string =>
  recordType.fields.find((f) => f.key === key)?.name ?? key;

function sourceText(source: MapSource): string {
  if (source.by === 'pairs') {
    const pairs = source.pairs.map((p) => `${p.from}: ${p.to === null ? 'blank' : String(p.to)}`);
    return `by ${source.formula}: ${pairs.join('; ')}`;
  }
  if (source.by === 'table') return `from the table ${source.table} by ${Object.values(source.keys).join(' and ')}`;
  const found = source.ways.map((w) => `${w.field} = ${w.formula} ${matchModeNames[w.mode]}`);
  return `from the ${source.recordType} with ${found.join(', else with ')}`;
}

function otherwiseText(o: Otherwise): string {
  if (o.do === 'set') return String(o.value);
  return o.do === 'clear' ? 'cleared' : o.do === 'leave' ? 'left as it is' : 'refused';
}

const verbs: Readonly<Record<Way, string>> = { replace: 'becomes', add: 'gains', remove: 'loses' };

function sentence(outcome: unknown, recordType: RecordType): string {
  const map = readMap(outcome);
  const whose = map.onto === '' ? '' : `${recordType.fields.find((f) => f.key === map.onto)?.name ?? map.onto}: `;
  const outputs = map.outputs.map((o) => {
    const name = map.onto === '' ? fieldName(o.target, recordType) : o.target;
    return `${name} ${verbs[o.way]}${o.value === '' ? ' the one' : ` ${o.value}`}`;
  });
  const ends = `blank: ${otherwiseText(map.blank)}; no match: ${otherwiseText(map.none)}; several: ${otherwiseText(map.several)}`;
  return `${whose}${outputs.join(', ')} ${sourceText(map.source)}; ${ends}.`;
}

const otherBranches: readonly Branch[] = [
  { at: 'blank source', text: 'blank' },
  { at: 'no match', text: 'no match' },
];

function branches(outcome: unknown, _rulebook: Rulebook): readonly Branch[] {
  const { source } = readMap(outcome);
  if (source.by === 'pairs') return [...source.pairs.map((p, at) => ({ at, text: p.from })), ...otherBranches];
  const found =
    source.by === 'match'
      ? [{ at: 0, text: 'one match' }, { at: 'several matches', text: 'several matches' } as const]
      : [];
  return [...found, ...otherBranches];
}

function faults(outcome: unknown): readonly Fault[] {
  const { source, outputs } = readMap(outcome);
  const o = looseObject(outcome);
  const found: Fault[] = [];
  if (source.by === 'pairs') {
    const { pairs } = source;
    pairs.forEach((p, i) => {
      const without = pairs.filter((_, at) => at !== i);
      found.push({ text: `the pair of ${p.from} left out`, outcome: { ...o, source: { ...source, pairs: without } } });
      const next = pairs[i + 1];
      if (!next || next.to === p.to) return;
      const swapped = pairs.map((x, at) => (at === i ? { ...x, to: next.to } : at === i + 1 ? { ...x, to: p.to } : x));
      found.push({
        text: `the values of ${p.from} and ${next.from} exchanged`,
        outcome: { ...o, source: { ...source, pairs: swapped } },
      });
    });
  }
  if (source.by === 'match' && source.ways.length > 1)
    source.ways.forEach((w, i) => {
      const left = source.ways.filter((_, at) => at !== i);
      found.push({ text: `matching by ${w.field} left out`, outcome: { ...o, source: { ...source, ways: left } } });
    });
  if (outputs.length > 1)
    outputs.forEach((out, i) => {
      found.push({
        text: `${out.target} not written`,
        outcome: { ...o, outputs: outputs.filter((_, at) => at !== i) },
      });
    });
  return found;
}

export const map: RuleKind = {
  key: 'map',
  name: 'Map',
  help: 'Values from a table, from option to option, or from a matched record.',
  compile,
  sentence,
  branches,
  faults,
  targets: (outcome) => {
    const { onto, outputs } = readMap(outcome);
    return onto === '' ? outputs.map((o) => o.target) : [];
  },
  texts(outcome) {
    const { source, outputs } = readMap(outcome);
    const found: OutcomeText[] = [];
    if (source.by === 'pairs') found.push({ path: '/source/formula', text: source.formula });
    if (source.by === 'table')
      for (const [key, text] of Object.entries(source.keys)) found.push({ path: `/source/keys/${key}`, text });
    if (source.by === 'match') {
      source.ways.forEach((w, i) => found.push({ path: `/source/ways/${i}/formula`, text: w.formula }));
      outputs.forEach((o, i) => {
        if (o.value.trim() !== '') found.push({ path: `/outputs/${i}/value`, text: o.value });
      });
    }
    return found;
  },
  branchText(outcome, branch) {
    const { source } = readMap(outcome);
    return source.by === 'pairs' ? source.pairs[branch]?.from : source.by === 'table' ? `row ${branch + 1}` : undefined;
  },
  differences(before, after, recordType) {
    const [a, b] = [sentence(before, recordType), sentence(after, recordType)];
    return a === b ? [] : [`${a} → ${b}`];
  },
  begin: (target, recordType): MapRule => ({
    source: {
      by: 'pairs',
      formula: recordType.fields.find((f) => f.type === 'picklist' && f.key !== target.key)?.name ?? '',
      pairs: [],
    },
    onto: '',
    outputs: [{ value: '', target: target.key, way: 'replace' }],
    blank: { do: 'clear' },
    none: { do: 'clear' },
    several: { do: 'leave' },
  }),
};
