import { DaysDuration, FeelDate, FeelDateTime, FeelTime, YearsDuration } from '../../values/calendar.ts';
import type { Meter } from '../../values/meter.ts';
import { isNumber } from '../../values/number.ts';
import { FeelFunction, FeelRange, isContext, isList, type Value } from '../../values/value.ts';

const simple: Readonly<Record<string, (v: Value) => boolean>> = {
  Any: (v) => v !== null,
  Null: (v) => v === null,
  number: isNumber,
  string: (v) => typeof v === 'string',
  boolean: (v) => typeof v === 'boolean',
  date: (v) => v instanceof FeelDate,
  time: (v) => v instanceof FeelTime,
  'date and time': (v) => v instanceof FeelDateTime,
  'days and time duration': (v) => v instanceof DaysDuration,
  'years and months duration': (v) => v instanceof YearsDuration,
  list: isList,
  context: isContext,
  function: (v) => v instanceof FeelFunction,
  range: (v) => v instanceof FeelRange,
};

/** FEEL's `instance of`, with `list<T>`, `range<T>`, `context<a: T>` and `function<…> -> T`. Unknown types hold for nothing. */
export function instanceOf(v: Value, type: string, meter: Meter): boolean {
  meter.spend(1 + (type.length >> 3));
  if (Object.hasOwn(simple, type)) return simple[type]!(v);
  const generic = /^(list|range|context|function)\s*<(.*)>/s.exec(type);
  if (!generic) return false;
  const inner = generic[2]!.trim();
  switch (generic[1]) {
    case 'list':
      return isList(v) && v.every((item) => item === null || instanceOf(item, inner, meter));
    case 'range':
      return v instanceof FeelRange && [v.low, v.high].every((end) => end === null || instanceOf(end, inner, meter));
    case 'context':
      return (
        isContext(v) &&
        members(inner).every(([name, t]) => v.has(name) && (v.get(name) === null || instanceOf(v.get(name)!, t, meter)))
      );
    default:
      return v instanceof FeelFunction;
  }
}

/** `a: number, b: list<string>` at its own level of brackets. */
function members(text: string): (readonly [string, string])[] {
  const found: string[] = [];
  let depth = 0;
  let last = 0;
  for (let i = 0; i <= text.length; i++) {
    const c = text[i];
    if (c === '<') depth++;
    if (c === '>') depth--;
    if (i === text.length || (c === ',' && depth === 0)) {
      found.push(text.slice(last, i));
      last = i + 1;
    }
  }
  return found.map((entry) => {
    const colon = entry.indexOf(':');
    return [entry.slice(0, colon).trim(), entry.slice(colon + 1).trim()] as const;
  });
}
