import { becomes } from '../../language/wording/isolated.ts';
import { enumerate } from '../../language/wording/prose.ts';
import { type Diagnostic, diagnostic, nowhere } from '../../diagnostics/catalog.ts';
import { nearestName } from '../../diagnostics/nearest.ts';
import type { Environment } from '../../language/expression/runtime.ts';
import type { Scope } from '../../language/expression/scope.ts';
import { optionsOf, type Type, dateType, fits, numberType, textType, typeName } from '../../language/types/types.ts';
import { fieldTypeOf } from '../../language/field-types/index.ts';
import type { Field, RecordType } from '../../document/document.ts';
import { FeelDate, FeelDateTime, dayNumber } from '../../values/calendar.ts';
import { digits, isNumber } from '../../values/number.ts';
import type { Writing } from '../../language/types/writing.ts';
import type { SentenceWords } from '../../language/wording/words.ts';
import { foldedKey } from '../../values/unicode-case.ts';
import { type Value, isBlank } from '../../values/value.ts';
import { type Band, bandText, findBand, meet } from './bands.ts';
import { boundaryText, type Categorize, type Group, readCategorize } from './categorize-outcome.ts';
import { OutcomeBuilder, resultName, storedConstant } from './outcome-builder.ts';
import { otherwiseClauses, otherwiseEffect, otherwiseWords } from './read-outcome.ts';
import type { CompiledOutcome, Effect, RuleKind } from './rule-kind.ts';
import type { Otherwise } from './otherwise.ts';

/** @param branch What gives it, as it is called: `band from 5`, `group Spain, Chile`. */
function checkResult(result: string | number, target: Field, branch: string, path: string): Diagnostic[] {
  const coerced = fieldTypeOf(target).coerce(result, target);
  if ('value' in coerced && coerced.value !== null) return [];
  const nearest = nearestName(
    String(result),
    (target.options ?? []).map((o) => o.name),
  );
  const problem = 'problem' in coerced ? coerced.problem : 'is blank';
  const data = { branch, value: String(result), problem };
  return [diagnostic('band.result', nowhere, nearest ? { ...data, nearest } : data, path)];
}

/** Every value once, each an option where the source is a picklist. */
function checkGroups(groups: readonly Group[], target: Field, source: Type): Diagnostic[] {
  const found: Diagnostic[] = [];
  const seen = new Set<string>();
  groups.forEach((group, i) => {
    const path = `/outcome/groups/${i}`;
    found.push(...checkResult(group.result, target, `group ${group.values.join(', ')}`, `${path}/result`));
    group.values.forEach((value, j) => {
      const key = foldedKey(value);
      if (seen.has(key)) found.push(diagnostic('group.twice', nowhere, { value }, `${path}/values/${j}`));
      seen.add(key);
      if (source.kind !== 'option' || source.options.names.some((n) => foldedKey(n) === key)) return;
      const nearest = nearestName(value, source.options.names);
      const data = { field: source.options.field, option: value };
      const d = diagnostic('option.unknown', nowhere, nearest ? { ...data, nearest } : data, `${path}/values/${j}`);
      found.push(d);
    });
  });
  return found;
}

/** `step`: that of the field that the bands divide, where it states one. */
function checkBands(
  bands: readonly Band[],
  target: Field,
  dates: boolean,
  step: number | undefined,
  writing: Writing,
): Diagnostic[] {
  const found: Diagnostic[] = [];
  if (bands.length === 0) found.push(diagnostic('band.empty', nowhere, {}, '/outcome/bands'));
  bands.forEach((band, i) => {
    const path = `/outcome/bands/${i}`;
    const name = bandText(band, dates, writing);
    found.push(...checkResult(band.result, target, `band ${name}`, `${path}/result`));
    for (const side of ['from', 'to'] as const) {
      const value = band[side];
      if (value !== undefined && !(typeof value === 'number' && Number.isFinite(value) && digits(value) <= 15))
        found.push(diagnostic('band.number', nowhere, { value: String(value) }, `${path}/${side}`));
    }
    const empty =
      band.from !== undefined &&
      band.to !== undefined &&
      (band.to < band.from || (band.to === band.from && (band.fromOpen === true || band.toClosed !== true)));
    if (empty) found.push(diagnostic('band.backwards', nowhere, { band: name }, `${path}/to`));
    const next = bands[i + 1];
    if (!next) return;
    const meeting = meet(band, next, dates ? 1 : step);
    const names = { first: name, second: bandText(next, dates, writing) };
    if (meeting === 'wrong order') found.push(diagnostic('band.order', nowhere, names, `/outcome/bands/${i + 1}/from`));
    if (meeting === 'overlap') found.push(diagnostic('band.overlap', nowhere, names, `/outcome/bands/${i + 1}/from`));
    if (meeting === 'gap') found.push(diagnostic('band.gap', nowhere, names, `/outcome/bands/${i + 1}/from`));
  });
  return found;
}

function compile(outcome: unknown, recordType: RecordType, scope: Scope, writing: Writing): CompiledOutcome {
  const { source, target, bands, groups, blank, outside, dates } = readCategorize(outcome);
  const builder = new OutcomeBuilder(recordType, scope);
  const formula = builder.formula(source, '/outcome/source');
  const found = builder.written(target, '/outcome/target');
  if (!found) return builder.finish();
  const { slot, field } = found;
  const wanted = groups.length > 0 ? textType : dates ? dateType : numberType;
  const suits = fits(formula.type, wanted) || (dates && formula.type.kind === 'date time');
  if (formula.evaluate && !suits)
    builder.report('band.source', '/outcome/source', { found: typeName(formula.type), wanted: typeName(wanted) });
  if (groups.length > 0) builder.diagnostics.push(...checkGroups(groups, field, formula.type));
  else {
    const divided = recordType.fields.find((f) => f.name === source.trim());
    const step = divided && fieldTypeOf(divided).step?.(divided);
    builder.diagnostics.push(...checkBands(bands, field, dates, step, writing));
  }

  const branches = groups.length > 0 ? 'groups' : 'bands';
  (groups.length > 0 ? groups : bands).forEach((_, i) => builder.isOption(`/outcome/${branches}/${i}/result`, field));
  groups.forEach((_, i) => builder.isOption(`/outcome/groups/${i}/values`, optionsOf(formula.type)));
  builder.otherwise(blank, field, '/outcome/blank');
  builder.otherwise(outside, field, '/outcome/outside');

  const whenBlank = [otherwiseEffect(slot, blank, 'blank source')];
  const whenOutside = [otherwiseEffect(slot, outside, 'nothing fits')];
  const whenWrong = [otherwiseEffect(slot, outside, 'wrong type')];
  const results = (groups.length > 0 ? groups : bands).map(({ result }, branch): readonly Effect[] => [
    { target: slot, act: 'set', value: result, branch, ...storedConstant(result, field) },
  ]);
  const evaluate = formula.evaluate ?? (() => null);
  const groupOf = new Map(groups.flatMap((g, i) => g.values.map((v) => [foldedKey(v), i] as const)));
  const act = (env: Environment): readonly Effect[] => {
    const v = evaluate(env);
    if (isBlank(v)) return whenBlank;
    if (groups.length > 0)
      return typeof v === 'string' ? (results[groupOf.get(foldedKey(v)) ?? -1] ?? whenOutside) : whenWrong;
    const n = dates ? dayOf(v) : v;
    return isNumber(n) ? (results[findBand(n, bands)] ?? whenOutside) : whenWrong;
  };
  return builder.finish({ steps: [act] });
}

const dayOf = (v: Value): Value =>
  v instanceof FeelDate ? dayNumber(v) : v instanceof FeelDateTime ? dayNumber(v.date) : null;

const otherwiseText = (o: Otherwise, field: Field | undefined, writing: Writing): string =>
  otherwiseWords(o, (value) => resultName(value, field, writing));

const targetOf = (o: Categorize, recordType: RecordType): Field | undefined =>
  recordType.fields.find((f) => f.key === o.target);

function clauses(outcome: unknown, recordType: RecordType, { writing }: SentenceWords): string[] {
  const o = readCategorize(outcome);
  const field = targetOf(o, recordType);
  const parts =
    o.groups.length > 0
      ? o.groups.map((g) => [g.result, `for ${enumerate(g.values, 'or')}`] as const)
      : o.bands.map((b, i) => [b.result, bandWords(b, o.bands[i + 1], o.dates, writing)] as const);
  const bands = parts.map(([result, when]) => `${resultName(result, field, writing)} ${when}`).join(', ');
  const otherwise = otherwiseClauses(
    [
      ['is blank', o.blank],
      ['is anything else', o.outside],
    ],
    o.source,
    (value) => resultName(value, field, writing),
  );
  return [`${field?.name ?? o.target} follows from ${o.source}: ${bands}`, ...otherwise];
}

/** As `bandText`, without the end where the next one begins just there. */
function bandWords(band: Band, next: Band | undefined, dates: boolean, writing: Writing): string {
  const { from, fromOpen, to, toClosed } = band;
  const meets = next !== undefined && next.from === to && Boolean(next.fromOpen) === Boolean(toClosed);
  if (!meets || from === undefined) return bandText(band, dates, writing);
  return bandText({ from, ...(fromOpen ? { fromOpen } : {}), result: band.result }, dates, writing);
}

function differences(before: unknown, after: unknown, recordType: RecordType, { writing }: SentenceWords): string[] {
  const [a, b] = [readCategorize(before), readCategorize(after)];
  const field = targetOf(b, recordType) ?? targetOf(a, recordType);
  const found: string[] = [];
  const boundary = (n: number | undefined): string => boundaryText(n, b.dates, writing);
  const say = (what: string, from: string, to: string): void => {
    if (from !== to) found.push(`${what} ${becomes(from, to)}`);
  };
  const belongs = (what: string, name: string, n: number | undefined, yes: boolean): string =>
    `${what} of ${name}: ${boundary(n)} now ${yes ? 'belongs' : 'does not belong'} to it`;
  say('source', a.source, b.source);
  say('target', targetOf(a, recordType)?.name ?? a.target, field?.name ?? b.target);
  if (a.bands.length === b.bands.length && a.bands.every((band, i) => band.result === b.bands[i]!.result)) {
    a.bands.forEach((band, i) => {
      const other = b.bands[i]!;
      const name = resultName(other.result, field, writing);
      if (band.from !== other.from)
        say('boundary', boundary(band.from), `${boundary(other.from)}, where ${name} begins`);
      else if (Boolean(band.fromOpen) !== Boolean(other.fromOpen))
        found.push(
          i === 0
            ? belongs('beginning', name, band.from, !other.fromOpen)
            : `boundary ${boundary(band.from)} now belongs to the band ${other.fromOpen ? 'below it' : `above it, ${name}`}`,
        );
      const next = b.bands[i + 1];
      if (next && next.from === other.to) return;
      if (band.to !== other.to) say(`end of ${name}`, boundary(band.to), boundary(other.to));
      else if (Boolean(band.toClosed) !== Boolean(other.toClosed))
        found.push(belongs('end', name, other.to, other.toClosed === true));
    });
  } else {
    const list = (bands: readonly Band[]): string =>
      bands.map((x) => `${resultName(x.result, field, writing)} ${bandText(x, b.dates, writing)}`).join('; ');
    say('bands', list(a.bands), list(b.bands));
  }
  const groupsText = (groups: readonly Group[]): string =>
    groups.map((g) => `${resultName(g.result, field, writing)} ${g.values.join(', ')}`).join('; ');
  say('groups', groupsText(a.groups), groupsText(b.groups));
  say('blank', otherwiseText(a.blank, field, writing), otherwiseText(b.blank, field, writing));
  say('outside', otherwiseText(a.outside, field, writing), otherwiseText(b.outside, field, writing));
  return found;
}

export const categorize: RuleKind<'categorize'> = {
  key: 'categorize',
  name: 'Categorize',
  help: 'A number or date falls into bands, a text into groups; each gives an option.',
  compile,
  clauses,
  differences,
  structureOf(outcome) {
    const division = readCategorize(outcome);
    const { source, blank } = division;
    return { replaces: true, division, blanks: () => (blank.do === 'leave' ? [] : [source]) };
  },
  targets: (outcome) => [readCategorize(outcome).target],
  source: (outcome) => readCategorize(outcome).source,
  branchText(outcome, branch, writing) {
    const { bands, groups, dates } = readCategorize(outcome);
    const band = bands[branch];
    return groups[branch]?.values.join(', ') ?? (band && bandText(band, dates, writing));
  },
  branches(outcome, _, writing) {
    const { bands, groups, dates } = readCategorize(outcome);
    const texts =
      groups.length > 0 ? groups.map((g) => g.values.join(', ')) : bands.map((b) => bandText(b, dates, writing));
    return [
      ...texts.map((text, at) => ({ at, text })),
      { at: 'blank source', text: 'blank' },
      { at: 'nothing fits', text: 'outside' },
    ];
  },
  texts: (outcome) => [{ path: '/source', text: readCategorize(outcome).source }],
  createOutcome(target, recordType, recent = []): unknown {
    const numbers = recordType.fields.filter((f) => fieldTypeOf(f).numeric && f.key !== target.key);
    const source =
      numbers.find((f) => f.key === recent.find((key) => numbers.some((n) => n.key === key))) ?? numbers[0];
    const results = target.options?.map((o) => o.key) ?? [''];
    return {
      source: source?.name ?? '',
      target: target.key,
      bands: results.map((result, i) => ({
        ...(i === 0 ? {} : { from: i * 10 }),
        ...(i === results.length - 1 ? {} : { to: (i + 1) * 10 }),
        result,
      })),
      dates: false,
      groups: [],
      blank: { do: 'clear' },
      outside: { do: 'clear' },
    };
  },
};
