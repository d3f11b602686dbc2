/** Where the values of a map rule come from: pairs of options, a mapping table, or a record that is found. */
import type { Formula } from '../../language/expression/formula.ts';
import { type Compiled, type Environment, withVariables } from '../../language/expression/runtime.ts';
import { extendScope } from '../../language/expression/scope.ts';
import { optionsOf, type Type } from '../../language/types/types.ts';
import { fieldTypeOf } from '../../language/field-types/index.ts';
import type { Field } from '../../document/document.ts';
import { matchModeNames } from '../../values/match-keys.ts';
import { foldedKey } from '../../values/unicode-case.ts';
import type { RecordRef } from '../../values/value.ts';
import { type Value, isBlank, isList, valueToText } from '../../values/value.ts';
import type { MapRule, MapSource, MapSourcePairTo } from './map-outcome.ts';
import type { OutcomeBuilder } from './outcome-builder.ts';

/** What a source gives in one write. */
export type Answer =
  | { readonly found: 'blank' | 'none' | 'several'; readonly because?: string }
  | {
      readonly found: 'one';
      readonly value: (output: number, env: Environment) => Value;
      readonly branch: number;
      readonly because?: string;
    };

export interface Source {
  readonly ask: (env: Environment) => Answer;
  /** The type of each output, where the source knows it. */
  readonly types: readonly (Type | undefined)[];
}

export function compileSource(map: MapRule, builder: OutcomeBuilder): Source | undefined {
  const { source } = map;
  if (source.by === 'table') return tableSource(map, source, builder);
  if (source.by === 'match') return matchSource(map, source, builder);
  const { pairs } = source;
  const formula = builder.formula(source.formula, '/outcome/source/formula');
  if (pairs.length === 0) builder.report('map.no-pair', '/outcome/source/pairs');
  pairs.forEach((_, i) => builder.isOption(`/outcome/source/pairs/${i}/from`, optionsOf(formula.type)));
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
      builder.report('map.twice', `/outcome/source/pairs/${i}/from`, { value: p.from });
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

export function checkPairs(
  pairs: readonly { readonly to: MapSourcePairTo }[],
  target: Field | undefined,
  builder: OutcomeBuilder,
): void {
  if (!target) return;
  pairs.forEach(({ to }, i) => {
    builder.isOption(`/outcome/source/pairs/${i}/to`, target);
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
    if (text?.trim()) {
      const formula = builder.formula(text, path);
      builder.columnIs(table.key, column.key, optionsOf(formula.type));
      return formula;
    }
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
