/** Records made up from fields and rules: edges, blanks, each option, every two options together; by seed. */
import type { Program, TypeProgram } from '../compile/compiled.ts';
import type { Field, RecordData, Stored } from '../document/document.ts';
import { fieldTypeOf, linkedType } from '../language/field-types/index.ts';
import { usualValues } from './inputs.ts';
import { pairwise } from './pairwise.ts';
import { randomFrom } from './sampled.ts';
import { trialsOf } from './values.ts';

export interface GenerateOptions {
  readonly seed?: number;
  /** Keys of picklists of which every two options stand together in some record; absent: none. */
  readonly pairs?: readonly string[];
  /** How many records of each type there are to link to. */
  readonly links?: (recordType: string) => number;
}

/** Records of a type, one after the other, without end; the same for the same seed. */
export function* generateRecords(
  program: Program,
  recordType: string,
  { seed = 0, pairs = [], links = () => 0 }: GenerateOptions = {},
): Generator<RecordData, void> {
  const type = program.types.get(recordType);
  if (!type) return;
  const random = randomFrom(seed);
  const pick = <T>(list: readonly T[]): T | undefined => list[Math.floor(random() * list.length)];
  const values = valuesOf(type, program);
  const paired = pairRows(type, pairs, seed);
  for (let n = 0; ; n++) {
    const data: Record<string, Stored> = {};
    for (const { field } of type.slots) {
      const linked = linkedType(field);
      const value = linked
        ? linkTo(links(linked), random)
        : fieldTypeOf(field).users
          ? null
          : fieldTypeOf(field).free
            ? freeText(field, n, random)
            : (pick(values.get(field.key) ?? []) ?? null);
      if (value !== null) data[field.key] = value;
    }
    for (const [key, value] of Object.entries(paired[n] ?? {})) data[key] = value;
    yield data;
  }
}

/** What rules turn on, and the edges of each field, blank among them once. */
function valuesOf(type: TypeProgram, program: Program): ReadonlyMap<string, readonly Stored[]> {
  const found = new Map<string, Stored[]>();
  for (const { field } of type.slots) found.set(field.key, [...usualValues(field)]);
  for (const r of type.rules)
    for (const [slot, trials] of trialsOf(r, type, program)) {
      const own = found.get(type.slots[slot]!.field.key)!;
      const known = new Set(own.map((v) => JSON.stringify(v)));
      for (const { value } of trials) if (!known.has(JSON.stringify(value))) own.push(value);
    }
  return found;
}

function pairRows(type: TypeProgram, keys: readonly string[], seed: number): readonly RecordData[] {
  const fields = keys.flatMap((k) => type.recordType.fields.find((f) => f.key === k && f.options) ?? []);
  return pairwise(
    fields.map((f) => f.options!.length),
    { seed },
  ).map((row) => Object.fromEntries(row.map((v, i) => [fields[i]!.key, fields[i]!.options![v]!.key])));
}

const linkTo = (count: number, random: () => number): Stored =>
  count === 0 || random() < 0.1 ? null : String(1 + Math.floor(random() * count));

const words = [
  'Alder',
  'Beck',
  'Carr',
  'Dene',
  'Elm',
  'Fell',
  'Garth',
  'Holt',
  'Ing',
  'Keld',
  'Leigh',
  'Moss',
] as const;

/** Made-up words with a number, within the length of the field; now and then with two spaces, or at its edge. */
function freeText(field: Field, n: number, random: () => number): Stored {
  const word = () => words[Math.floor(random() * words.length)]!;
  const between = random() < 0.05 ? '  ' : ' ';
  const text = `${word()}${between}${word()} ${n + 1}`;
  if (!field.required && random() < 0.1) return null;
  const coerced = fieldTypeOf(field).coerce(text.slice(0, field.length ?? 200), field);
  return 'value' in coerced ? coerced.value : null;
}
