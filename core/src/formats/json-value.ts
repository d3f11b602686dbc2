/** JSON to formula values and back, as the command line has it. */
import { temporalText } from '../values/calendar.ts';
import { digits, isNumber, normalize, numberToText, Decimal, type Num } from '../values/number.ts';
import { FeelFunction, FeelRange, isContext, isList, isTemporal, valueToText, type Value } from '../values/value.ts';

/** Values nested deeper than this, or longer than this as JSON text, are not carried across. */
const deepest = 1000;
const longest = 10_000_000;

/**
 * Turns JSON into a value; `{"$feel": text}` stands for what `evaluate` makes of the text.
 * @throws {Error} in plain words, where a number is beyond what JSON can carry or the nesting is too deep.
 */
export function fromJson(json: unknown, evaluate: (text: string) => Value, depth = 0): Value {
  if (json === null || json === undefined) return null;
  if (typeof json === 'boolean' || typeof json === 'string') return json;
  if (typeof json === 'number') {
    if (!Number.isFinite(json)) throw new Error('A number is larger than JSON can carry: give it as a text.');
    return normalize(new Decimal(json));
  }
  if (depth > deepest) throw new Error(`The context is nested deeper than ${deepest} levels.`);
  if (Array.isArray(json)) return json.map((item) => fromJson(item, evaluate, depth + 1));
  const members = Object.entries(json as Record<string, unknown>);
  const [first] = members;
  if (members.length === 1 && first?.[0] === '$feel' && typeof first[1] === 'string') return evaluate(first[1]);
  return new Map(members.map(([key, value]) => [key, fromJson(value, evaluate, depth + 1)]));
}

/**
 * A value as JSON text: numbers as JSON numbers, or as text where a double is another; dates, times and durations as ISO 8601
 * text; ranges and functions as their FEEL text.
 * @throws {Error} in plain words, where it is nested too deep or too long.
 */
export function toJson(v: Value): string {
  const parts: string[] = [];
  let length = 0;
  const put = (text: string): void => {
    length += text.length;
    if (length > longest) throw new Error(`The value is longer than ${longest} characters.`);
    parts.push(text);
  };
  const visit = (value: Value, depth: number): void => {
    if (depth > deepest) throw new Error(`The value is nested deeper than ${deepest} levels.`);
    if (isList(value)) {
      put('[');
      value.forEach((item, i) => {
        if (i > 0) put(',');
        visit(item, depth + 1);
      });
      put(']');
    } else if (isContext(value)) {
      put('{');
      let i = 0;
      for (const [key, inner] of value) {
        put(`${i++ > 0 ? ',' : ''}${JSON.stringify(key)}:`);
        visit(inner, depth + 1);
      }
      put('}');
    } else put(plainJson(value));
  };
  visit(v, 0);
  return parts.join('');
}

function plainJson(v: Value): string {
  if (isNumber(v)) return numberJson(v);
  if (isTemporal(v)) return JSON.stringify(temporalText(v));
  if (v instanceof FeelRange || v instanceof FeelFunction) return JSON.stringify(valueToText(v, true));
  return JSON.stringify(v);
}

/** Whoever reads JSON into doubles reads the same number; what they would not is a text. */
function numberJson(v: Num): string {
  const text = numberToText(v);
  const read = Number(text);
  const same = digits(v) <= 15 && Number.isFinite(read) && numberToText(normalize(new Decimal(read))!) === text;
  return same ? text.replace('e+', 'e') : JSON.stringify(text);
}
