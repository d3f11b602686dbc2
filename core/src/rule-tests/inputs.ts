/** Inputs by chance: what the suggested tests and the tests that there are may not have thought of. */
import type { CompiledRule, Program, TypeProgram } from '../compile/compiled.ts';
import { linkedType, fieldTypeOf } from '../language/field-types/index.ts';
import type { Field, Moment, RecordData, RecordType, RuleTest, SampleRecord, Stored } from '../document/document.ts';
import { testedId } from './test-values.ts';
import { randomFrom } from './sampled.ts';
import { testMoment, trialsOf } from './values.ts';

/**
 * Tests without expectations: now from nothing, now from a test that there is with a few values exchanged, in its own
 * record, in the related ones or in the one that a conversion starts from. The same for the same seed; without end.
 */
export function* randomInputs(
  r: CompiledRule,
  type: TypeProgram,
  program: Program,
  known: readonly RuleTest[],
  seed: number,
): Iterable<RuleTest> {
  const chance = new Chance(r, type, program, seed);
  for (let n = 1; ; n++) yield chance.test(n, known);
}

class Chance {
  private readonly r: CompiledRule;
  private readonly type: TypeProgram;
  private readonly program: Program;
  private readonly random: () => number;
  /** Values to try by field key: of what the rule reads, and of what it writes. */
  private readonly values: ReadonlyMap<string, readonly Stored[]>;

  constructor(r: CompiledRule, type: TypeProgram, program: Program, seed: number) {
    this.r = r;
    this.type = type;
    this.program = program;
    this.random = randomFrom(seed);
    const values = new Map<string, readonly Stored[]>();
    for (const slot of r.writes) {
      const { field } = type.slots[slot]!;
      values.set(field.key, usualValues(field));
    }
    for (const [slot, list] of trialsOf(r, type, program))
      values.set(
        type.slots[slot]!.field.key,
        list.map((t) => t.value),
      );
    this.values = values;
  }

  private pick<T>(list: readonly T[]): T | undefined {
    return list[Math.floor(this.random() * list.length)];
  }

  test(n: number, known: readonly RuleTest[]): RuleTest {
    const { random, r, type } = this;
    const from = random() < 0.7 ? this.pick(known) : undefined;
    const way = this.pick([...type.entryPoints.values()])!;
    const moment: Moment = this.pick(way.moments.filter((m) => m !== 'opening')) ?? 'updating';
    const isNew = moment === 'creating' || (moment === 'editing' && random() < 0.5);
    const record = this.changed(from ? { ...from.before?.data, ...from.sent } : {}, from ? 0.3 : 0.8);
    const stored: RecordData = this.changed(record, 0.3);
    const sent = isNew || random() < 0.4 ? record : this.changed({}, 0.4);
    const held = r.writes.map((slot) => type.slots[slot]!.field.key).filter(() => random() < 0.3);
    const related = this.related(from?.related ?? [], sent);
    const origin = this.origin(from?.origin);
    return {
      key: `random-${n}`,
      name: `by chance, number ${n}`,
      recordType: type.recordType.key,
      before: isNew ? null : { data: stored, held },
      ...(related.length > 0 ? { related } : {}),
      ...(origin ? { origin } : {}),
      sent,
      typed: random() < 0.5 ? Object.keys(sent) : Object.keys(sent).toReversed(),
      moment,
      entryPoint: way.key,
      now: from?.now ?? testMoment,
      ...(random() < 0.2 ? { woken: [r.rule.key] } : {}),
      expect: {},
    };
  }

  private changed(data: Readonly<Record<string, unknown>>, share: number): Record<string, Stored> {
    const next = { ...data } as Record<string, Stored>;
    const left = new Set<string>();
    for (const [key, list] of this.values) {
      if (this.random() >= share) continue;
      const value = this.pick(list) ?? null;
      // Not sent is not the same as cleared.
      if (value !== null || this.random() >= 0.5) next[key] = value;
      else left.add(key);
    }
    return Object.fromEntries(Object.entries(next).filter(([key]) => !left.has(key)));
  }

  private recordType(key: string): RecordType | undefined {
    return this.program.types.get(key)?.recordType;
  }

  /** Related records with some values exchanged; records to match, which have what is sent. */
  private related(known: readonly SampleRecord[], sent: RecordData): readonly SampleRecord[] {
    const asked = new Set(this.r.related.map((x) => `${x.recordType}.${x.field}`));
    const own = known.map((record): SampleRecord => {
      const fields = this.recordType(record.recordType)?.fields.filter((f) =>
        asked.has(`${record.recordType}.${f.key}`),
      );
      const change = (fields ?? []).filter((f) => !linkedType(f) && this.random() < 0.3);
      if (change.length === 0) return record;
      return { ...record, data: { ...record.data, ...this.usual(change) } };
    });
    const { match } = this.r.structure;
    if (!match || this.random() < 0.4) return own;
    const texts = Object.values(sent).filter((v) => typeof v === 'string' && v !== testedId);
    const count = this.random() < 0.7 ? 1 : 2;
    const met = Array.from({ length: count }, (_, i): SampleRecord => {
      const ways = match.ways.filter(() => this.random() < 0.6);
      const data = Object.fromEntries(ways.map((w) => [w.field, this.pick(texts) ?? null]));
      return { key: `match-${i + 1}`, recordType: match.recordType, data };
    });
    return [...own, ...met];
  }

  private usual(fields: readonly Field[]): RecordData {
    return Object.fromEntries(fields.map((f) => [f.key, this.pick(usualValues(f)) ?? null]));
  }

  private origin(known: RuleTest['origin']): RuleTest['origin'] {
    const recordType = known && this.recordType(known.recordType);
    if (!known || !recordType) return known;
    const change = recordType.fields.filter((f) => !linkedType(f) && this.random() < 0.2);
    return { ...known, data: { ...known.data, ...this.usual(change) } };
  }
}

/** Values of a field that stand for all others: its edges, its options, one that may be anything, blank. */
export function usualValues(field: Field): readonly Stored[] {
  const type = fieldTypeOf(field);
  const example = type.coerce(type.example, field);
  const stored: readonly Stored[] = 'value' in example ? [example.value] : [];
  return [null, ...type.boundaryValues(field), ...stored];
}
