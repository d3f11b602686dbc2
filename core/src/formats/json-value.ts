/** JSON to formula values and back, as the command line has it. */
import { temporalText } from '../values/calendar.ts';
import { digits, isNumber, normalize, numberToText, Decimal } from '../values/number.ts';
import { FeelFunction, FeelRange, isContext, isList, isTemporal, valueToText, type Value } from '../values/value.ts';

/** Turns JSON into a value; `{"$feel": text}` stands for what `evaluate` makes of the text. */
export function fromJson(json: unknown, evaluate: (text: string) => Value): Value {
  if (json === null || json === undefined) return null;
  if (typeof json === 'boolean' || typeof json === 'string') return json;
  if (typeof json === 'number') return normalize(new Decimal(json));
  if (Array.isArray(json)) return json.map((item) => fromJson(item, evaluate));
  const members = Object.entries(json as Record<string, unknown>);
  const [first] = members;
  if (members.length === 1 && first?.[0] === '$feel' && typeof first[1] === 'string') return evaluate(first[1]);
  return new Map(members.map(([key, value]) => [key, fromJson(value, evaluate)]));
}

/**
 * A value as JSON text: numbers as JSON numbers, or as text beyond 15 digits; dates, times and durations as ISO 8601
 * text; ranges and functions as their FEEL text.
 */
export function toJson(v: Value): string {
  if (v === null) return 'null';
  if (isNumber(v)) return digits(v) <= 15 ? numberToText(v).replace(/e\+/, 'e') : JSON.stringify(numberToText(v));
  if (isList(v)) return `[${v.map(toJson).join(',')}]`;
  if (isContext(v)) return `{${[...v].map(([key, value]) => `${JSON.stringify(key)}:${toJson(value)}`).join(',')}}`;
  if (isTemporal(v)) return JSON.stringify(temporalText(v));
  if (v instanceof FeelRange || v instanceof FeelFunction) return JSON.stringify(valueToText(v, true));
  return JSON.stringify(v);
}
