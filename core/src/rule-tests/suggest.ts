/**
 * Tests worked out from the compiled rules. Their expectations are what the draft gives now: they count only when the
 * author has confirmed them.
 */
import { fieldTypeOf } from '../language/field-types/index.ts';
import { entryPointsOf } from '../compile/entry-points.ts';
import type { CompiledRule, Program, TypeProgram } from '../compile/compiled.ts';
import type { Settlement } from '../settle/settlement.ts';
import type { SettleOptions } from '../settle/settlement.ts';
import type { Expectation, Moment, RecordData, RuleTest, Stored } from '../document/document.ts';
import { settleTest } from './run.ts';
import { testMoment, trialsOf, type Trial } from './values.ts';

export interface Suggestion {
  readonly test: RuleTest;
  readonly rule: string;
  /** What it is about: `boundary`, `blank`, `entry point` ... */
  readonly why: string;
}

/** Combinations tried to find records on which each part of a condition decides alone. */
const mostCombinations = 4_000;

export function suggestTests(program: Program, options: SettleOptions = {}): Suggestion[] {
  const found: Suggestion[] = [];
  for (const type of program.types.values())
    for (const r of type.rules) if (r.compiles && r.rule.on) found.push(...suggestFor(r, type, program, options));
  return found;
}

class Suggester {
  readonly found: Suggestion[] = [];
  private readonly seen = new Set<string>();
  private readonly r: CompiledRule;
  private readonly type: TypeProgram;
  private readonly program: Program;
  private readonly options: SettleOptions;

  constructor(r: CompiledRule, type: TypeProgram, program: Program, options: SettleOptions) {
    this.r = r;
    this.type = type;
    this.program = program;
    this.options = options;
  }

  /** Keeps a try as a test, unless there is one with the same input. */
  add(
    why: string,
    before: RecordData | null,
    sent: RecordData,
    more: Partial<Pick<RuleTest, 'entryPoint' | 'moment'>> = {},
  ): Settlement | undefined {
    const { rule } = this.r;
    const moment: Moment = more.moment ?? (before ? 'updating' : 'creating');
    const entryPoint = more.entryPoint ?? rule.entryPoints[0] ?? 'api';
    const identity = JSON.stringify([before, sent, moment, entryPoint]);
    if (this.seen.has(identity)) return undefined;
    this.seen.add(identity);
    const base = {
      key: `suggested-${rule.key}-${this.found.length + 1}`,
      name: `${rule.name}: ${why}`,
      recordType: this.type.recordType.key,
      before: before ? { data: before } : null,
      sent,
      typed: Object.keys(sent),
      moment,
      entryPoint,
      now: testMoment,
    };
    const settlement = settleTest(this.program, { ...base, expect: {} }, this.options);
    if (settlement.verdict === 'waiting') return settlement;
    this.found.push({ rule: rule.key, why, test: { ...base, expect: this.expectation(settlement) } });
    return settlement;
  }

  private expectation(s: Settlement): Expectation {
    const { rule, writes } = this.r;
    const verdict = s.trace.find((t) => t.rule === rule.key)?.verdict;
    const acted = verdict === 'ran' || verdict === 'no effect' || verdict === 'stops';
    const fields = Object.fromEntries(
      writes.map((slot) => {
        const { key } = this.type.slots[slot]!.field;
        return [key, s.data[key] ?? null] as const;
      }),
    );
    const messages = s.messages.filter((m) => m.rule === rule.key).map((m) => m.text);
    return {
      ...(writes.length > 0 ? { fields } : {}),
      ...(acted ? { ran: [rule.key] } : { didNotRun: [rule.key] }),
      ...(this.r.fieldConstraints && messages.length === s.messages.length ? { messages } : {}),
      ...(this.r.notices.length > 0 ? { notified: s.notifications.map((n) => n.to) } : {}),
      verdict: s.verdict,
    };
  }
}

export function suggestFor(r: CompiledRule, type: TypeProgram, program: Program, options: SettleOptions): Suggestion[] {
  const suggester = new Suggester(r, type, program, options);
  const trials = trialsOf(r, type, program);
  const base = holdingRecord(r, type, trials);
  const keyOf = (slot: number): string => type.slots[slot]!.field.key;
  const { rule } = r;
  const saves = (m: Moment): boolean => rule.moments.includes(m);
  for (const [slot, values] of trials)
    for (const { value, why } of values) {
      const name = type.slots[slot]!.field.name;
      const sent = { ...base, [keyOf(slot)]: value };
      if (saves('creating')) suggester.add(`${name} ${why}`, null, sent);
      else if (saves('updating')) suggester.add(`${name} ${why}`, without(base, keyOf(slot)), { [keyOf(slot)]: value });
    }
  if (saves('updating')) {
    for (const slot of new Set([...r.reads.present, ...r.wakes])) transitions(suggester, slot, type, base);
    const unrelated = type.slots.findIndex(
      ({ field }, i) => !r.wakes.includes(i) && !r.writes.includes(i) && fieldTypeOf(field).free,
    );
    if (unrelated >= 0) suggester.add('another field changes', { ...base }, { [keyOf(unrelated)]: 'changed' });
  }
  for (const entry of entryPointsOf(type.recordType))
    for (const moment of ['creating', 'updating'] as const) {
      if (!entry.moments.includes(moment)) continue;
      if (moment === 'creating') suggester.add(`through ${entry.name}`, null, base, { entryPoint: entry.key });
      else {
        const wake = r.wakes[0];
        if (wake === undefined || base[keyOf(wake)] === undefined) continue;
        const sent = { [keyOf(wake)]: base[keyOf(wake)]! };
        suggester.add(`a change through ${entry.name}`, without(base, keyOf(wake)), sent, {
          entryPoint: entry.key,
          moment,
        });
      }
    }
  for (const { record, why } of decidingRecords(r, type, trials)) suggester.add(why, null, record);
  winnerTests(suggester, r, type, base);
  return suggester.found;
}

/** What becomes of a value that is typed together with its cause. */
function winnerTests(suggester: Suggester, r: CompiledRule, type: TypeProgram, base: RecordData): void {
  const [target] = r.writes;
  const cause = r.wakes.find((s) => base[type.slots[s]!.field.key] !== undefined);
  if (target === undefined || cause === undefined) return;
  const { field } = type.slots[target]!;
  const other = field.options?.at(-1)?.key ?? (fieldTypeOf(field).free ? 'by hand' : undefined);
  if (other === undefined) return;
  const [source, key] = [type.slots[cause]!.field.key, field.key];
  suggester.add(`${field.name} set by hand after its cause`, null, { ...base, [source]: base[source]!, [key]: other });
  const held = without(base, source);
  suggester.add(`${field.name} set by hand before its cause`, held, { [key]: other, [source]: base[source]! });
}

const without = (data: RecordData, key: string): RecordData =>
  Object.fromEntries(Object.entries(data).filter(([k]) => k !== key));

/** Each move between neighbours of an ordered picklist, and back. */
function transitions(suggester: Suggester, slot: number, type: TypeProgram, base: RecordData): void {
  const { field } = type.slots[slot]!;
  if (!field.ordered) return;
  const options = field.options ?? [];
  options.slice(1).forEach((to, i) => {
    const from = options[i]!;
    for (const [a, b] of [
      [from, to],
      [to, from],
    ] as const)
      suggester.add(
        `${field.name} from ${a.name} to ${b.name}`,
        { ...base, [field.key]: a.key },
        { [field.key]: b.key },
      );
  });
}

/** Counts through the combinations of the trials, evenly spread where there are too many. */
function* combinations(trials: ReadonlyMap<number, readonly Trial[]>, type: TypeProgram): Iterable<RecordData> {
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

function conditionTrials(
  r: CompiledRule,
  trials: ReadonlyMap<number, readonly Trial[]>,
): ReadonlyMap<number, readonly Trial[]> {
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
function holdingRecord(r: CompiledRule, type: TypeProgram, trials: ReadonlyMap<number, readonly Trial[]>): RecordData {
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
function decidingRecords(
  r: CompiledRule,
  type: TypeProgram,
  trials: ReadonlyMap<number, readonly Trial[]>,
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
