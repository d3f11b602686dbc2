/** Records on which a rule's condition holds, or on which one part of it decides alone. */
import type { CompiledRule, TypeProgram } from '../compile/compiled.ts';
import type { RecordData, Stored } from '../document/document.ts';
import type { SlotIndex } from '../document/slots.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
import { testMoment, type Trial } from './values.ts';

/** Combinations tried to find records on which each part of a condition decides alone. */
const mostCombinations = 4_000;
/** Counts through the combinations of the trials, evenly spread where there are too many. */
function* combinations(trials: ReadonlyMap<SlotIndex, readonly Trial[]>, type: TypeProgram): Iterable<RecordData> {
  const slots = [...trials].filter(([, t]) => t.length > 0);
  const total = slots.reduce((n, [, t]) => n * t.length, 1);
  // A step that shares no factor with common sizes spreads the tries over all combinations.
  const stride = total <= mostCombinations ? 1 : 7_919;
  for (let i = 0; i < Math.min(total, mostCombinations); i++) {
    let rest = (i * stride) % total;
    const record: Record<string, Stored> = {};
    for (const [slot, list] of slots) {
      const { value } = list[rest % list.length]!;
      rest = Math.floor(rest / list.length);
      if (value !== null) record[type.slots[slot]!.field.key] = value;
    }
    yield record;
  }
}

export function conditionTrials(
  r: CompiledRule,
  trials: ReadonlyMap<SlotIndex, readonly Trial[]>,
): ReadonlyMap<SlotIndex, readonly Trial[]> {
  const named = new Set((r.conditionFormula?.reads ?? []).filter((x) => !x.previous).map((x) => x.field.slot));
  return new Map([...trials].filter(([slot]) => named.has(slot)));
}

/** The truth of a rule's condition and of its parts on a record; null where it asks for more than the record. */
function truthOn(
  r: CompiledRule,
  type: TypeProgram,
  record: RecordData,
): { whole: unknown; parts: readonly unknown[] } | null {
  const values = type.slots.map(({ field, type: t }) => t.read(record[field.key] ?? null, field));
  const env = { record: values, previous: values.map(() => null), host: { now: testMoment } };
  try {
    return { whole: r.condition?.(env) ?? true, parts: r.conditionParts().map((p) => p.evaluate(env) === true) };
  } catch {
    return null;
  }
}

/** A record on which the condition holds, with a value for each field that the rule reads, as far as one is found. */
export function holdingRecord(
  r: CompiledRule,
  type: TypeProgram,
  trials: ReadonlyMap<SlotIndex, readonly Trial[]>,
): RecordData {
  const filled: Record<string, Stored> = {};
  for (const [slot, list] of trials) {
    const value = list.find((t) => t.value !== null && t.value !== false)?.value;
    if (value !== undefined) filled[type.slots[slot]!.field.key] = value;
  }
  for (const slot of type.required) {
    const { field } = type.slots[slot]!;
    filled[field.key] ??= field.options?.[0]?.key ?? (fieldTypeOf(field).free ? 'Alder' : null);
  }
  if (!r.condition) return filled;
  for (const record of combinations(conditionTrials(r, trials), type)) {
    const blanked = Object.fromEntries(
      [...conditionTrials(r, trials).keys()].map((slot) => [type.slots[slot]!.field.key, null] as const),
    );
    const whole = { ...filled, ...blanked, ...record };
    if (truthOn(r, type, whole)?.whole === true)
      return Object.fromEntries(Object.entries(whole).filter(([, v]) => v !== null));
  }
  return filled;
}

/**
 * Unique-cause MC/DC (NASA/TM-2001-210876): for each part two records between which that part alone changes, and the
 * decision with it.
 */
export function decidingRecords(
  r: CompiledRule,
  type: TypeProgram,
  trials: ReadonlyMap<SlotIndex, readonly Trial[]>,
): { record: RecordData; why: string }[] {
  const parts = r.conditionParts();
  if (parts.length < 2 || !r.condition) return [];
  const bySignature = new Map<string, { record: RecordData; whole: boolean }>();
  for (const record of combinations(conditionTrials(r, trials), type)) {
    const truth = truthOn(r, type, record);
    if (!truth) return [];
    const signature = truth.parts.map((p) => (p ? '1' : '0')).join('');
    if (!bySignature.has(signature)) bySignature.set(signature, { record, whole: truth.whole === true });
  }
  const found: { record: RecordData; why: string }[] = [];
  parts.forEach(({ text }, i) => {
    for (const [signature, a] of bySignature) {
      if (signature[i] !== '1') continue;
      const b = bySignature.get(`${signature.slice(0, i)}0${signature.slice(i + 1)}`);
      if (!b || a.whole === b.whole) continue;
      found.push(
        { record: a.record, why: `${text} decides, true` },
        { record: b.record, why: `${text} decides, not true` },
      );
      return;
    }
  });
  return found;
}
