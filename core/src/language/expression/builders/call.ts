/** Calls of functions, those of the language and those that are values. */
import { Meter } from '../../../values/meter.ts';
import { FeelFunction, type Value, equalValues, isList } from '../../../values/value.ts';
import { type LanguageFunction, callMetered, isConstantWork, signatureFor } from '../../functions/function.ts';
import { findFunction } from '../../functions/index.ts';
import type { Call, Expression } from '../ast.ts';
import { type Compiled, type Environment, type Running, noHost, spend } from '../runtime.ts';
import type { Builder, Building } from './building.ts';
import { meaningOf } from './values.ts';

export const call: Builder<Call> = (e, building) => {
  const meaning = building.meaningOf(e);
  if (e.callee) return callOfValue(e, building.build(e.callee), building);
  if (meaning && meaning.kind !== 'unknown') return callOfValue(e, meaningOf(meaning, e.name), building);
  const found = findFunction(e.name);
  const signature = found && signatureFor(found, e.arguments.length, e.names);
  if (!found || !signature) return () => null;
  if (found.onField) return onField(e.arguments[0]!, found.onField, building);
  const args = e.arguments.map((a) => building.build(a));
  const order = found.ordered ? e.arguments.map((a) => building.optionsOf(a)?.order).find(Boolean) : undefined;
  if (order) {
    const { evaluateOrdered } = found;
    return (env) =>
      evaluateOrdered!(
        args.map((g) => g(env)),
        order,
      );
  }
  const evaluate = evaluationOf(found, building.metered);
  if (found.total && args.length === 1 && isOverRecords(e.arguments[0]!, building))
    return totalOfFilled(args[0]!, found.total.ofNone, evaluate);
  if (e.names) {
    const places = signature.map((p) => e.names!.indexOf(p.name));
    while (places.at(-1) === -1) places.pop();
    return (env) =>
      evaluate(
        places.map((i) => (i < 0 ? null : args[i]!(env))),
        env,
      );
  }
  if (args.length === 1) {
    const [only] = args as [Compiled];
    return (env) => evaluate([only(env)], env);
  }
  return (env) =>
    evaluate(
      args.map((g) => g(env)),
      env,
    );
};

type Evaluate = (args: readonly Value[], env: Environment) => Value;
/** For functions of constant work, which charge nothing. */
const unused = new Meter();

const evaluationOf = (f: LanguageFunction, metered: boolean): Evaluate =>
  isConstantWork(f) && !metered
    ? (values, env) => f.evaluate(values, env.host ?? noHost, unused)
    : (values, env) => callMetered(f, values, env.host ?? noHost, (env as Running).meter);

function callOfValue(e: Call, callee: Compiled, building: Building): Compiled {
  const args = e.arguments.map((a) => building.build(a));
  const { names } = e;
  return (env) => {
    const f = callee(env);
    if (!(f instanceof FeelFunction)) return null;
    spend(env, 1 + args.length);
    const values = args.map((g) => g(env));
    return f.invoke(names ? f.parameters.map((p) => values[names.indexOf(p)] ?? null) : values);
  };
}

/** Whether a list holds a field of records: totals over those are kinder than over other lists. */
function isOverRecords(e: Expression, building: Building): boolean {
  if (e.kind !== 'path') return false;
  const type = building.typeOf(e.object);
  return type?.kind === 'list' && type.item.kind === 'record';
}

/** A total over what is filled in; of no value at all it is `ofNone`. */
const totalOfFilled =
  (list: Compiled, ofNone: Value, evaluate: Evaluate): Compiled =>
  (env) => {
    const v = list(env);
    const filled = isList(v) ? v.filter((item) => item !== null && item !== '') : v;
    return isList(filled) && filled.length === 0 ? ofNone : evaluate([filled], env);
  };

/** A function of one field of the record: of its value, the one before the write, and the order of its options. */
function onField(argument: Expression, run: NonNullable<LanguageFunction['onField']>, building: Building): Compiled {
  const meaning = building.meaningOf(argument);
  if (meaning?.kind !== 'field') return () => null;
  const { slot } = meaning;
  const order = building.optionsOf(argument)?.order ?? null;
  return (env) => {
    const [now, before] = [env.record[slot] ?? null, env.previous[slot] ?? null];
    return run(now, before, env.related?.changed(slot) ?? equalValues(now, before) !== true, order);
  };
}
