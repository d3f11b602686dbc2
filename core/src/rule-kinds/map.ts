import type { SentenceWords } from '../assistance/words.ts';
import type { Environment } from '../expression/runtime.ts';
import type { Scope } from '../expression/scope.ts';
import { optionNames } from '../field-types/options.ts';
import type { RecordType, Rulebook } from '../rulebook/document.ts';
import { matchModeNames } from '../values/match-keys.ts';
import { type Value, isBlank } from '../values/value.ts';
import type { Anatomy } from './anatomy.ts';
import { findDestination } from './map-destination.ts';
import { type MapRule, type MapSource, readMap } from './map-outcome.ts';
import { checkPairs, compileSource } from './map-sources.ts';
import { OutcomeBuilder } from './outcome-builder.ts';
import { looseObject, otherwiseEffect, otherwiseWords } from './read-outcome.ts';
import {
  type Branch,
  type Cause,
  type CompiledOutcome,
  type Effect,
  type Fault,
  type Otherwise,
  type OutcomeText,
  type RuleKind,
  type Way,
  wayVerbs,
} from './rule-kind.ts';

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
  targets.forEach((target, i) => {
    if (!target?.field.options) return;
    for (const otherwise of ['blank', 'none', 'several']) builder.isOption(`/outcome/${otherwise}/value`, target.field);
    builder.gives(`/outcome/outputs/${i}/value`, target.field);
    if (map.source.by === 'table') builder.columnIs(map.source.table, map.outputs[i]!.value, optionNames(target.field));
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

const fieldOf = (type: RecordType | undefined, key: string): string =>
  type?.fields.find((f) => f.key === key)?.name ?? key;

function sourceText(source: MapSource, names: SentenceWords): string {
  if (source.by === 'pairs') {
    const pairs = source.pairs.map((p) => `${p.from}: ${p.to === null ? 'blank' : String(p.to)}`);
    return `by ${source.formula}: ${pairs.join('; ')}`;
  }
  if (source.by === 'table') {
    const name = names.tables.find((t) => t.key === source.table)?.name ?? source.table;
    return `from the table ${name} by ${Object.values(source.keys).join(' and ')}`;
  }
  const type = names.recordTypes.find((t) => t.key === source.recordType);
  const found = source.ways.map((w) => `${fieldOf(type, w.field)} = ${w.formula} ${matchModeNames[w.mode]}`);
  return `from the ${type?.name.toLowerCase() ?? source.recordType} with ${found.join(', else with ')}`;
}

/** The record type that the values go to, where the names say it. */
function destinationOf(onto: string, recordType: RecordType, { recordTypes }: SentenceWords): RecordType | undefined {
  if (onto === '') return recordType;
  const lookup = recordType.fields.find((f) => f.key === onto);
  if (lookup) return recordTypes.find((t) => t.key === lookup.recordType);
  return recordTypes.find((t) =>
    t.fields.some((f) => f.recordType === recordType.key && (f.children ?? t.plural) === onto),
  );
}

function sentence(outcome: unknown, recordType: RecordType, words: SentenceWords): string {
  const map = readMap(outcome);
  const whose = map.onto === '' ? '' : `${fieldOf(recordType, map.onto)}: `;
  const type = destinationOf(map.onto, recordType, words);
  const { source } = map;
  const table = source.by === 'table' ? words.tables.find((t) => t.key === source.table) : undefined;
  const outputs = map.outputs.map((o) => {
    const field = type?.fields.find((f) => f.key === o.target);
    const value = table?.outputs.find((c) => c.key === o.value)?.name ?? (o.value && words.value(o.value, field));
    return `${fieldOf(type, o.target)} ${wayVerbs[o.way]}${value === '' ? (source.by === 'match' ? ' the one' : '') : ` ${value}`}`;
  });
  const ends = `blank: ${otherwiseWords(map.blank)}; no match: ${otherwiseWords(map.none)}; several: ${otherwiseWords(map.several)}`;
  return `${whose}${outputs.join(', ')} ${sourceText(source, words)}; ${ends}.`;
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

function anatomy(outcome: unknown): Anatomy {
  const { source, outputs, onto, blank } = readMap(outcome);
  const asked =
    source.by === 'pairs'
      ? [source.formula]
      : source.by === 'table'
        ? Object.values(source.keys)
        : source.ways.map((w) => w.formula);
  // Where several formulas are asked, one of them alone leaves the others to answer.
  const blanks = (): readonly string[] => (blank.do === 'leave' || asked.length !== 1 ? [] : asked);
  const sends = onto === '' ? {} : { sends: { onto, fields: outputs.map((o) => o.target) } };
  const path = '/source';
  switch (source.by) {
    case 'pairs':
      return {
        replaces: true,
        blanks,
        ...sends,
        pairs: { formula: source.formula, from: source.pairs.map((p) => p.from), path: `${path}/pairs` },
      };
    case 'table':
      return {
        replaces: true,
        blanks,
        ...sends,
        table: { key: source.table, keys: source.keys, columns: outputs.map((o) => o.value) },
      };
    case 'match':
      return {
        replaces: true,
        blanks,
        ...sends,
        match: { recordType: source.recordType, ways: source.ways, path: `${path}/ways` },
      };
  }
}

export const map: RuleKind = {
  key: 'map',
  name: 'Map',
  help: 'Values from a table, from option to option, or from a matched record.',
  compile,
  sentence,
  anatomy,
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
  differences(before, after, recordType, words) {
    const [a, b] = [sentence(before, recordType, words), sentence(after, recordType, words)];
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
