/** Values as they are written, named or put together. */
import { FeelDateTime, FeelTime } from '../../../values/calendar.ts';
import { FeelFunction, FeelRange, RecordRef, type Value, isContext } from '../../../values/value.ts';
import { located } from '../../../values/zones.ts';
import { callMetered, signatureFor } from '../../functions/function.ts';
import { findFunction } from '../../functions/index.ts';
import { memberOf } from '../../functions/members.ts';
import type { Context, FunctionDefinition, InstanceOf, List, Literal, Name, Path, Range } from '../ast.ts';
import type { Meaning } from '../checked.ts';
import { instanceOf } from '../instance-of.ts';
import { bodyPrice } from '../price.ts';
import { type Compiled, type Running, closure, noHost, spend } from '../runtime.ts';
import type { Builder } from './building.ts';

/** A time of a zone lies where the zone has it when the formula runs. */
export const literal: Builder<Literal> = ({ value }) => {
  const zone = value instanceof FeelDateTime ? value.time.zone : value instanceof FeelTime ? value.zone : null;
  return zone === null ? () => value : (env) => located(value, env.host?.zoneOffset);
};

export const name: Builder<Name> = (e, building) => meaningOf(building.meaningOf(e) ?? { kind: 'unknown' }, e.name);

export const path: Builder<Path> = (e, building) => {
  const meaning = building.meaningOf(e);
  if (meaning) return meaningOf(meaning, e.name);
  const [object, { name: member }] = [building.build(e.object), e];
  if (!building.metered) return (env) => memberOf(object(env), member, env.related?.read);
  return (env) => memberOf(object(env), member, env.related?.read, env.meter);
};

export const list: Builder<List> = (e, building) => {
  const items = e.items.map((item) => building.build(item));
  return (env) => items.map((item) => item(env));
};

export const range: Builder<Range> = (e, building) => {
  const [low, high] = [building.build(e.low), building.build(e.high)];
  const { lowIncluded, highIncluded } = e;
  return (env) => new FeelRange(low(env), high(env), lowIncluded, highIncluded);
};

/** An entry sees the ones before it, not itself nor those behind it. */
export const context: Builder<Context> = (e, building) =>
  building.with(e.entries.length, (stackIndex) => {
    const entries = e.entries.map(
      ({ key, value }, i) => [key, building.at(stackIndex + i, () => building.build(value))] as const,
    );
    // Two entries of one name: DMN gives no context.
    if (new Set(e.entries.map((x) => x.key)).size < e.entries.length) return () => null;
    return (env) => {
      const made = new Map<string, Value>();
      spend(env, entries.length);
      entries.forEach(([key, value], i) => {
        const v = value(env);
        env.variables![stackIndex + i] = v;
        made.set(key, v);
      });
      return made;
    };
  });

export const functionDefinition: Builder<FunctionDefinition> = (e, building) =>
  building.with(e.parameters.length, (stackIndex) => {
    const body = building.build(e.body);
    const { parameters } = e;
    const price = bodyPrice(e.body);
    return (env) => new FeelFunction(parameters, closure(env as Running, stackIndex, body, price));
  });

export const instance: Builder<InstanceOf> = (e, building) => {
  const [operand, { type }] = [building.build(e.operand), e];
  return (env) => instanceOf(operand(env), type, (env as Running).meter);
};

/** The value of what a name stands for. */
export function meaningOf(meaning: Meaning, name: string): Compiled {
  switch (meaning.kind) {
    case 'field': {
      const { slot } = meaning;
      return meaning.previous ? (env) => env.previous[slot] as Value : (env) => env.record[slot] as Value;
    }
    case 'variable': {
      const { stackIndex } = meaning;
      return (env) => env.variables![stackIndex]!;
    }
    case 'member': {
      const { stackIndex } = meaning;
      const otherwise = meaningOf(meaning.otherwise, name);
      return (env) => {
        const item = env.variables![stackIndex]!;
        if (item instanceof RecordRef) return env.related?.read(item, name) ?? null;
        return isContext(item) && item.has(name) ? item.get(name)! : otherwise(env);
      };
    }
    case 'table': {
      const { key } = meaning;
      return (env) => env.related?.table(key)?.rows ?? null;
    }
    case 'children': {
      const { name: list } = meaning;
      return (env) => env.related?.read(env.related.self, list) ?? null;
    }
    case 'self':
      return (env) => env.related?.self ?? null;
    case 'origin':
      return (env) => env.related?.origin ?? null;
    case 'user':
      return (env) => env.related?.user ?? null;
    case 'function': {
      const found = findFunction(name)!;
      const names = found.parameters.map((p) => p.name);
      return (env) =>
        new FeelFunction(names, (args) =>
          signatureFor(found, args.length)
            ? callMetered(found, args, env.host ?? noHost, (env as Running).meter)
            : null,
        );
    }
    case 'unknown':
      return () => null;
  }
}
