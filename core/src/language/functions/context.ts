import { anyType, contextType, listOf, textType } from '../types/types.ts';
import { isContext, isList, type ContextValue, type Value } from '../../values/value.ts';
import type { Meter } from '../../values/meter.ts';
import { sizeOf, type LanguageFunction } from './function.ts';

const m = { name: 'm', type: contextType };

function fromEntries(v: Value | undefined): Value {
  const entries = isList(v ?? null) ? (v as readonly Value[]) : [v ?? null];
  const made = new Map<string, Value>();
  for (const entry of entries) {
    if (!isContext(entry) || !entry.has('value')) return null;
    const key = entry.get('key');
    if (typeof key !== 'string' || made.has(key)) return null;
    made.set(key, entry.get('value')!);
  }
  return made;
}

function put(context: ContextValue, keys: readonly Value[], value: Value, meter: Meter): Value {
  meter.spend(context.size);
  const [key, ...rest] = keys;
  if (typeof key !== 'string') return null;
  const inner = context.get(key);
  const placed =
    rest.length === 0 ? value : isContext(inner ?? null) ? put(inner as ContextValue, rest, value, meter) : null;
  if (rest.length > 0 && placed === null) return null;
  return new Map([...context, [key, placed]]);
}

export const contextFunctions: readonly LanguageFunction[] = [
  {
    name: 'get value',
    keyed: [0, 1],
    parameters: [m, { name: 'key', type: anyType }],
    result: anyType,
    help: 'The value of a key; blank where there is none.',
    examples: [
      ['get value({key1: "value1"}, "key1")', 'value1'],
      ['get value({a: 1}, "b")', null],
    ],
    evaluate([context, key]) {
      const keys = isList(key ?? null) ? (key as readonly Value[]) : [key ?? null];
      return keys.reduce<Value>(
        (so, k) => (isContext(so) && typeof k === 'string' ? (so.get(k) ?? null) : null),
        context ?? null,
      );
    },
  },
  {
    name: 'get entries',
    parameters: [m],
    result: listOf(contextType),
    help: 'The keys and values as a list of contexts.',
    examples: [['get entries({a: 1})[1].key', 'a']],
    evaluate: ([v]) =>
      isContext(v ?? null)
        ? [...(v as ContextValue)].map(
            ([key, value]) =>
              new Map<string, Value>([
                ['key', key],
                ['value', value],
              ]),
          )
        : null,
  },
  {
    name: 'context',
    parameters: [{ name: 'entries', type: listOf(contextType) }],
    result: contextType,
    help: 'A context from a list of keys and values.',
    examples: [
      ['context([{key: "a", value: 1}]).a', 1],
      ['context([{key: "a", value: 1}, {key: "a", value: 2}])', null],
    ],
    evaluate: ([entries]) => fromEntries(entries),
  },
  {
    name: 'context put',
    keyed: [0, 1],
    parameters: [
      { name: 'context', type: contextType },
      { name: 'key', type: anyType },
      { name: 'value', type: anyType },
    ],
    alternatives: [
      [
        { name: 'context', type: contextType },
        { name: 'keys', type: listOf(textType) },
        { name: 'value', type: anyType },
      ],
    ],
    result: contextType,
    help: 'The context with one value changed or added, also deeper inside.',
    examples: [
      ['context put({x: 1}, "y", 2).y', 2],
      ['context put({x: {y: 1}}, ["x", "y"], 2).x.y', 2],
    ],
    evaluate([context, key, value], _host, meter) {
      if (!isContext(context ?? null)) return null;
      return put(
        context as ContextValue,
        isList(key ?? null) ? (key as readonly Value[]) : [key ?? null],
        value ?? null,
        meter,
      );
    },
  },
  {
    name: 'context merge',
    parameters: [{ name: 'contexts', type: listOf(contextType) }],
    result: contextType,
    help: 'The contexts put together; later values win.',
    examples: [['context merge([{x: 1}, {x: 2, y: 3}]).x', 2]],
    evaluate([v], _host, meter) {
      const all = isList(v ?? null) ? (v as readonly Value[]) : [v ?? null];
      for (const c of all) meter.spend(sizeOf(c));
      return all.every(isContext) ? new Map(all.flatMap((c) => [...c])) : null;
    },
  },
];
