import { diagnostic, nowhere, hasErrors, type Diagnostic } from '../diagnostics/catalog.ts';
import { nearestName } from '../diagnostics/nearest.ts';
import type { Environment } from '../expression/compile.ts';
import { createFormula } from '../expression/formula.ts';
import { fits, numberType, typeName } from '../expression/types.ts';
import type { Scope } from '../expression/scope.ts';
import { fieldTypeOf } from '../field-types/index.ts';
import { groupDigits } from '../field-types/number.ts';
import type { Field, RecordType, Stored } from '../rulebook/document.ts';
import { digits, isNumber } from '../values/number.ts';
import { isBlank } from '../values/value.ts';
import { looseList, looseObject, looseText, type Loose } from './read-outcome.ts';
import { bandText, findBand, meet, type Band } from './bands.ts';
import type { Cause, CompiledOutcome, Effect, Otherwise, RuleKind } from './rule-kind.ts';

/** A number falls into bands; each gives an option (or a number or text) for the target. */
export interface Categorize {
  /** FEEL, giving a number; mostly the name of a field. */
  readonly source: string;
  /** Key of the field written. */
  readonly target: string;
  /** In ascending order. */
  readonly bands: readonly Band[];
  readonly blank: Otherwise;
  /** The number lies in no band. */
  readonly outside: Otherwise;
}

/** Reads an outcome of unknown origin; what is missing or of the wrong shape takes its starting value. */
export function readCategorize(outcome: unknown): Categorize {
  const o = looseObject(outcome);
  return {
    source: looseText(o['source']),
    target: looseText(o['target']),
    bands: looseList(o['bands']).map(readBand),
    blank: readOtherwise(o['blank']),
    outside: readOtherwise(o['outside']),
  };
}

function readBand({ from, to, fromOpen, toClosed, result }: Loose): Band {
  return {
    ...(from === undefined || from === null ? {} : { from: from as number }),
    ...(fromOpen === true ? { fromOpen } : {}),
    ...(to === undefined || to === null ? {} : { to: to as number }),
    ...(toClosed === true ? { toClosed } : {}),
    result: typeof result === 'string' || typeof result === 'number' ? result : '',
  };
}

function readOtherwise(outcome: unknown): Otherwise {
  const { do: what, value, message } = looseObject(outcome);
  if (what === 'leave') return { do: 'leave' };
  if (what === 'set' && (typeof value === 'string' || typeof value === 'number')) return { do: 'set', value };
  return what === 'stop' ? { do: 'stop', message: looseText(message) } : { do: 'clear' };
}

function checkBands(bands: readonly Band[], target: Field): Diagnostic[] {
  const found: Diagnostic[] = [];
  if (bands.length === 0) found.push(diagnostic('band.empty', nowhere, {}, '/outcome/bands'));
  bands.forEach((band, i) => {
    const path = `/outcome/bands/${i}`;
    const name = bandText(band);
    const coerced = fieldTypeOf(target).coerce(band.result, target);
    if ('problem' in coerced || coerced.value === null) {
      const nearest = nearestName(
        String(band.result),
        (target.options ?? []).map((o) => o.name),
      );
      const data = { field: target.name, band: name };
      found.push(diagnostic('band.result', nowhere, nearest ? { ...data, nearest } : data, `${path}/result`));
    }
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
    const meeting = meet(band, next);
    const names = { first: name, second: bandText(next) };
    if (meeting === 'overlap') found.push(diagnostic('band.overlap', nowhere, names, `/outcome/bands/${i + 1}/from`));
    if (meeting === 'gap') found.push(diagnostic('band.gap', nowhere, names, `/outcome/bands/${i + 1}/from`));
  });
  return found;
}

function compile(outcome: unknown, recordType: RecordType, scope: Scope): CompiledOutcome {
  const { source, target, bands, blank, outside } = readCategorize(outcome);
  const slot = recordType.fields.findIndex((f) => f.key === target);
  const field = recordType.fields[slot];
  if (!field) {
    const missing = diagnostic('rule.no-target', nowhere, { field: target }, '/outcome/target');
    return { diagnostics: [missing], reads: [], writes: [] };
  }
  const formula = createFormula(source, scope);
  const diagnostics = formula.diagnostics.map((d) => ({ ...d, path: '/outcome/source' }));
  if (formula.evaluate && !fits(formula.type, numberType)) {
    const range = { from: 0, to: source.length };
    diagnostics.push({
      ...diagnostic('band.source', range, { found: typeName(formula.type) }),
      path: '/outcome/source',
    });
  }
  const all = [...diagnostics, ...checkBands(bands, field)];
  const base = { diagnostics: all, reads: formula.reads, writes: [target] };
  if (hasErrors(all) || !formula.evaluate) return base;

  const { evaluate } = formula;
  const otherwise = (what: Otherwise, cause: Cause): readonly Effect[] => {
    if (what.do === 'leave') return [{ target: slot, act: 'leave', cause }];
    if (what.do === 'stop') return [{ target: slot, act: 'stop', message: what.message, cause }];
    return [{ target: slot, act: 'set', value: what.do === 'set' ? what.value : null, cause }];
  };
  const whenBlank = otherwise(blank, 'blank source');
  const whenOutside = otherwise(outside, 'nothing fits');
  const results = bands.map((band, branch): readonly Effect[] => [
    { target: slot, act: 'set', value: band.result, branch },
  ]);
  const act = (env: Environment): readonly Effect[] => {
    const v = evaluate(env);
    if (isNumber(v)) return results[findBand(v, bands)] ?? whenOutside;
    return isBlank(v) ? whenBlank : otherwise(outside, 'wrong type');
  };
  return { ...base, steps: [act], clock: formula.clock };
}

/** A result as people know it: the name of an option rather than its key. */
function resultName(result: string | number, field: Field | undefined): string {
  if (!field) return String(result);
  const type = fieldTypeOf(field);
  const coerced = type.coerce(result, field);
  return 'value' in coerced ? type.format(coerced.value as Stored, field) : String(result);
}

function otherwiseText(o: Otherwise, field: Field | undefined): string {
  if (o.do === 'set') return resultName(o.value, field);
  return o.do === 'clear' ? 'cleared' : o.do === 'leave' ? 'left as it is' : 'refused';
}

const targetOf = (o: Categorize, recordType: RecordType): Field | undefined =>
  recordType.fields.find((f) => f.key === o.target);

function sentence(outcome: unknown, recordType: RecordType): string {
  const o = readCategorize(outcome);
  const field = targetOf(o, recordType);
  const bands = o.bands.map((b) => `${resultName(b.result, field)} ${bandText(b)}`).join('; ');
  const ends = `blank: ${otherwiseText(o.blank, field)}; outside: ${otherwiseText(o.outside, field)}`;
  return `${field?.name ?? o.target} becomes, by ${o.source}: ${bands}; ${ends}.`;
}

function differences(before: unknown, after: unknown, recordType: RecordType): string[] {
  const [a, b] = [readCategorize(before), readCategorize(after)];
  const field = targetOf(b, recordType) ?? targetOf(a, recordType);
  const found: string[] = [];
  const say = (what: string, from: string, to: string): void => {
    if (from !== to) found.push(`${what} ${from} → ${to}`);
  };
  say('source', a.source, b.source);
  say('target', targetOf(a, recordType)?.name ?? a.target, field?.name ?? b.target);
  if (a.bands.length === b.bands.length && a.bands.every((band, i) => band.result === b.bands[i]!.result)) {
    a.bands.forEach((band, i) => {
      const other = b.bands[i]!;
      const name = resultName(other.result, field);
      if (band.from !== other.from)
        say('boundary', boundary(band.from), `${boundary(other.from)}, where ${name} begins`);
      else if (Boolean(band.fromOpen) !== Boolean(other.fromOpen))
        found.push(
          `boundary ${boundary(band.from)} now belongs to the band ${other.fromOpen ? 'below it' : `above it, ${name}`}`,
        );
      const next = b.bands[i + 1];
      if (band.to !== other.to && (!next || next.from !== other.to))
        say(`end of ${name}`, boundary(band.to), boundary(other.to));
    });
  } else {
    const list = (bands: readonly Band[]): string =>
      bands.map((x) => `${resultName(x.result, field)} ${bandText(x)}`).join('; ');
    say('bands', list(a.bands), list(b.bands));
  }
  say('blank', otherwiseText(a.blank, field), otherwiseText(b.blank, field));
  say('outside', otherwiseText(a.outside, field), otherwiseText(b.outside, field));
  return found;
}

const boundary = (n: number | undefined): string => (n === undefined ? 'none' : groupDigits(n));

export const categorize: RuleKind = {
  key: 'categorize',
  name: 'Categorize',
  help: 'A number falls into bands; each band gives an option.',
  compile,
  sentence,
  differences,
  targets: (outcome) => [readCategorize(outcome).target],
  source: (outcome) => readCategorize(outcome).source,
  branchText(outcome, branch) {
    const band = readCategorize(outcome).bands[branch];
    return band && bandText(band);
  },
  begin(target, recordType): Categorize {
    const source = recordType.fields.find((f) => f.type === 'number' && f.key !== target.key);
    const results = target.options?.map((o) => o.key) ?? [''];
    return {
      source: source?.name ?? '',
      target: target.key,
      bands: results.map((result, i) => ({
        ...(i === 0 ? {} : { from: i * 10 }),
        ...(i === results.length - 1 ? {} : { to: (i + 1) * 10 }),
        result,
      })),
      blank: { do: 'clear' },
      outside: { do: 'clear' },
    };
  },
};
