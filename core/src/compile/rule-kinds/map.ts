import { fieldTypeOf } from '../../language/field-types/index.ts';
import { becomes } from '../../language/wording/isolated.ts';
import { enumerate, sentences } from '../../language/wording/prose.ts';
import type { SentenceWords } from '../../language/wording/words.ts';
import type { Environment } from '../../language/expression/runtime.ts';
import type { Scope } from '../../language/expression/scope.ts';
import { findOption, optionNames } from '../../language/field-types/options.ts';
import type { Writing } from '../../language/types/writing.ts';
import type { Field, RecordType, Rulebook } from '../../document/document.ts';
import { nameOfField } from '../../document/names.ts';
import type { MatchMode } from '../../values/match-keys.ts';
import { type Value, isBlank } from '../../values/value.ts';
import type { OutcomeStructure } from './outcome-structure.ts';
import { findDestination } from './map-destination.ts';
import {
  type Ending,
  endings,
  endOf,
  type MapOutput,
  type MapRule,
  type MapSource,
  type MapSourcePairTo,
  readMap,
} from './map-outcome.ts';
import { checkPairs, compileSource, type Answer } from './map-sources.ts';
import { OutcomeBuilder, resultName } from './outcome-builder.ts';
import { otherwiseClauses, otherwiseEffect } from './read-outcome.ts';
import {
  type Branch,
  type NoWriteReason,
  type CompiledOutcome,
  type Effect,
  type OutcomeText,
  type RuleKind,
  type ListUpdateMode,
  listUpdateModes,
  listUpdateVerbs,
} from './rule-kind.ts';
import { type Otherwise } from './otherwise.ts';
import type { SlotIndex } from '../../document/slots.ts';

const causes: Readonly<Record<Ending, NoWriteReason>> = {
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
    if (out.way !== 'replace' && fieldTypeOf(target.field).chooses !== 'many')
      builder.report('map.not-list', `${path}/way`, { field: target.field.name });
    return target;
  });
  targets.forEach((target, i) => {
    if (!target) return;
    const { otherwise = {} } = map.outputs[i]!;
    for (const ending of endings) {
      const own = otherwise[ending];
      builder.otherwise(own ?? map[ending], target.field, `/outcome/${own ? `outputs/${i}/otherwise/` : ''}${ending}`);
    }
    if (!target.field.options) return;
    builder.gives(`/outcome/outputs/${i}/value`, target.field);
    if (map.source.by === 'table') builder.columnIs(map.source.table, map.outputs[i]!.value, optionNames(target.field));
  });
  if (map.source.by === 'pairs') checkPairs(map.source.pairs, targets[0]?.field, builder);
  if (!source) return builder.finish();
  const otherwise = targets.map((target, i) => target && otherwiseEffects(map, map.outputs[i]!, target.slot));
  const act = (env: Environment): readonly Effect[] => {
    const answer = source.ask(env);
    const effects: Effect[] = [];
    for (let i = 0; i < targets.length; i++) {
      const target = targets[i];
      if (!target) continue;
      const { way } = map.outputs[i]!;
      const effect =
        answer.found === 'one'
          ? foundEffect(target.slot, answer.value(i, env), way, answer)
          : explained(otherwise[i]![answer.found], answer);
      destination.add(effects, env, target, effect);
    }
    return effects;
  };
  return builder.finish({ steps: [act] });
}

function foundEffect(
  target: SlotIndex,
  value: Value,
  way: ListUpdateMode,
  { branch, because: found }: Extract<Answer, { found: 'one' }>,
): Effect {
  const because = found === undefined ? undefined : { because: found };
  if (!isBlank(value)) return { target, act: 'set', value, way, branch, ...because };
  return way === 'replace'
    ? { target, act: 'set', value, way, branch, cause: 'blank result', ...because }
    : { target, act: 'leave', cause: 'blank result', ...because };
}

/** What is decided beforehand, with what decided for it this time. */
const explained = (effect: Effect, { because: found }: Answer): Effect =>
  found !== undefined && (effect.act === 'set' || effect.act === 'leave') ? { ...effect, because: found } : effect;

/** What is not found adds nothing and takes nothing away. */
function otherwiseEffects(map: MapRule, output: MapOutput, target: SlotIndex): Readonly<Record<Ending, Effect>> {
  const effect = (found: Ending): Effect => {
    const what = endOf(map, output, found);
    const kept: Otherwise = what.do === 'clear' && output.way !== 'replace' ? { do: 'leave' } : what;
    return otherwiseEffect(target, kept, causes[found]);
  };
  return { blank: effect('blank'), none: effect('none'), several: effect('several') };
}

export const fieldOf = (type: RecordType | undefined, key: string): string => nameOfField(type?.fields ?? [], key);

/** An option by its name, whether it is kept by key or by name. */
function valueText(to: MapSourcePairTo, target: Field | undefined, writing: Writing): string {
  if (to === null) return 'blank';
  if (typeof to === 'boolean') return to ? 'yes' : 'no';
  if (typeof to === 'number') return resultName(to, target, writing);
  const named = (v: string): string => (target && findOption(target, v)?.name) || v;
  return typeof to === 'object' ? enumerate(to.map(named)) : named(to);
}

/** `Now for Source Fair or Referral, Soon for Call`: what gives the same is said once. */
function pairsText(
  { formula, pairs }: Extract<MapSource, { by: 'pairs' }>,
  target: Field | undefined,
  writing: Writing,
): string {
  const byValue = new Map<string, string[]>();
  for (const { from, to } of pairs) {
    const text = valueText(to, target, writing);
    byValue.set(text, [...(byValue.get(text) ?? []), from]);
  }
  return [...byValue]
    .map(([to, from], i) => `${to} for ${i === 0 ? `${formula} ` : ''}${enumerate(from, 'or')}`)
    .join('; ');
}

const matchWords: Readonly<Record<MatchMode, (sought: string) => string>> = {
  exact: (sought) => `is ${sought}`,
  folded: (sought) => `is ${sought}, whatever the case and spaces`,
  'email domain': (sought) => `has the domain of ${sought}, free-mail domains left out`,
  'longest prefix': (sought) => `is the longest beginning of ${sought}`,
};

/** What the outputs take, in words; those that are alike together. */
function outputClauses(map: MapRule, type: RecordType | undefined, words: SentenceWords): string[] {
  const { source, outputs } = map;
  const named = (list: readonly MapOutput[]): string => enumerate(list.map((o) => fieldOf(type, o.target)));
  if (source.by === 'pairs')
    return outputs.map(({ target, way }) => {
      const field = type?.fields.find((f) => f.key === target);
      return `${fieldOf(type, target)} ${listUpdateVerbs[way]} ${pairsText(source, field, words.writing)}`;
    });
  if (source.by === 'table') {
    const name = words.tables.find((t) => t.key === source.table)?.name ?? source.table;
    const keys = enumerate(Object.values(source.keys).map((f) => f || 'nothing yet'));
    return listUpdateModes.flatMap((way) => {
      const own = outputs.filter((o) => o.way === way);
      if (own.length === 0) return [];
      const verb =
        way === 'replace' ? (own.length > 1 ? 'come from' : 'comes from') : `${listUpdateVerbs[way]} what is in`;
      return [`${named(own)} ${verb} ${name}, looked up by ${keys}`];
    });
  }
  const of = words.recordTypes.find((t) => t.key === source.recordType);
  const what = of?.name.toLowerCase() ?? source.recordType;
  const found = source.ways.map((w) => `whose ${fieldOf(of, w.field)} ${matchWords[w.mode](w.formula)}`);
  const which = `${what} ${found.join(', or else ')}`;
  return outputs.map((o) => {
    const member = /^match\.(.+)$/.exec(o.value.trim())?.[1];
    const name = fieldOf(type, o.target);
    if (o.value.trim() === '') return `${name} ${listUpdateVerbs[o.way]} the ${which}`;
    return `${name} ${listUpdateVerbs[o.way]} ${member === undefined ? words.value(o.value) : `the ${member}`} of the ${which}`;
  });
}

/** What is looked up, or sought. */
function formulasOf(source: MapSource): readonly string[] {
  if (source.by === 'pairs') return [source.formula];
  return source.by === 'table' ? Object.values(source.keys) : source.ways.map((w) => w.formula);
}

/** How each ending reads behind what is looked up. */
const endingWords: Readonly<Record<MapSource['by'], readonly (readonly [Ending, string])[]>> = {
  pairs: [
    ['blank', 'is blank'],
    ['none', 'is anything else'],
  ],
  table: [
    ['blank', 'is blank'],
    ['none', 'has no row'],
    ['several', 'has several'],
  ],
  match: [
    ['blank', 'is blank'],
    ['none', 'finds none'],
    ['several', 'finds several'],
  ],
};

function endingClauses(map: MapRule, type: RecordType | undefined, writing: Writing): string[] {
  const { source, outputs } = map;
  const formulas = formulasOf(source);
  const subject = formulas.length === 1 && formulas[0] ? formulas[0] : 'the key';
  const own = outputs.map((o) => {
    const field = type?.fields.find((f) => f.key === o.target);
    const name = (value: string | number): string => resultName(value, field, writing);
    return otherwiseClauses(
      endingWords[source.by].map(([ending, said]) => [said, endOf(map, o, ending)] as const),
      subject,
      name,
    );
  });
  const same = own.every((clauses) => clauses.join() === own[0]!.join());
  return same
    ? (own[0] ?? [])
    : own.flatMap((clauses, i) => clauses.map((c) => `${fieldOf(type, outputs[i]!.target)} ${c}`));
}

/** The record type that the values go to, where the names say it. */
export function destinationOf(
  onto: string,
  recordType: RecordType,
  { recordTypes }: Pick<SentenceWords, 'recordTypes'>,
): RecordType | undefined {
  if (onto === '') return recordType;
  const lookup = recordType.fields.find((f) => f.key === onto);
  if (lookup) return recordTypes.find((t) => t.key === lookup.recordType);
  return recordTypes.find((t) =>
    t.fields.some((f) => f.recordType === recordType.key && (f.children ?? t.plural) === onto),
  );
}

function clauses(outcome: unknown, recordType: RecordType, words: SentenceWords): string[] {
  const map = readMap(outcome);
  const type = destinationOf(map.onto, recordType, words);
  const lookup = recordType.fields.find((f) => f.key === map.onto);
  const onto =
    map.onto === ''
      ? ''
      : lookup
        ? `on its ${lookup.name.toLowerCase()}, `
        : `on each of its ${map.onto.toLowerCase()}, `;
  const [first = '', ...more] = outputClauses(map, type, words);
  return [first && `${onto}${first}`, ...more, ...endingClauses(map, type, words.writing)];
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

function structure(outcome: unknown): OutcomeStructure {
  const { source, outputs, onto, blank } = readMap(outcome);
  const asked = formulasOf(source);
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
        table: {
          key: source.table,
          keys: source.keys,
          columns: outputs.map((o) => o.value),
          targets: onto === '' ? outputs.map((o) => o.target) : [],
        },
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

/** The picklist that somebody came from, else the first. */
function sourceOf(target: Field, { fields }: RecordType, recent: readonly string[]): Field | undefined {
  const lists = fields.filter((f) => f.options && f.key !== target.key);
  const came = recent.find((key) => lists.some((f) => f.key === key));
  return lists.find((f) => f.key === came) ?? lists[0];
}

export const map: RuleKind<'map'> = {
  key: 'map',
  name: 'Map',
  help: 'Values from a table, from option to option, or from a matched record.',
  compile,
  clauses,
  structureOf: structure,
  branches,
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
    const [a, b] = [before, after].map((o) => sentences(clauses(o, recordType, words)));
    return a === b ? [] : [becomes(a!, b!)];
  },
  createOutcome: (target, recordType, recent = []): MapRule => ({
    source: {
      by: 'pairs',
      formula: sourceOf(target, recordType, recent)?.name ?? '',
      pairs: [],
    },
    onto: '',
    outputs: [{ value: '', target: target.key, way: 'replace' }],
    blank: { do: 'clear' },
    none: { do: 'clear' },
    several: { do: 'leave' },
  }),
};
