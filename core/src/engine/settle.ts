/**
 * One write, settled: a pure function. No clock, network, database or interface; the same inputs give the same bytes
 * in the browser and on the server.
 */
import type { Environment } from '../expression/compile.ts';
import { isBlankStored, sameStored } from '../field-types/field-type.ts';
import type { Host } from '../functions/function.ts';
import type { Effect } from '../rule-kinds/rule-kind.ts';
import type { Stored } from '../rulebook/document.ts';
import { Decimal } from '../values/number.ts';
import { valueToText, type Value } from '../values/value.ts';
import type { CompiledRule, Program, TypeProgram } from './program.ts';
import { entryPointsOf } from './entry-points.ts';
import type {
  Author,
  Change,
  FieldState,
  Message,
  Settlement,
  TraceEntry,
  TraceOutcome,
  TraceVerdict,
  Verdict,
  Write,
} from './settlement.ts';

/** Rounds after which a circle of rules is said not to settle. */
export const circleRounds = 20;

export interface SettleOptions {
  /** Leave the trace out, for bulk runs. */
  readonly trace?: boolean;
  /** What formulas may ask for besides the clock, which comes with the write. */
  readonly host?: Host;
}

/** @throws {RangeError} for a record type that the program does not know: the caller's mistake, not a user's. */
export function settle(program: Program, write: Write, options: SettleOptions = {}): Settlement {
  const type = program.types.get(write.recordType);
  if (!type) throw new RangeError(`no record type ${write.recordType}`);
  const run = new Run(type, write, options.trace !== false, options.host ?? {});
  run.takeSent();
  run.goDown();
  return run.finish();
}

class Run {
  private readonly type: TypeProgram;
  private readonly write: Write;
  private readonly tracing: boolean;
  private readonly before: Stored[];
  private readonly after: Stored[];
  private readonly env: { record: Value[]; previous: Value[]; variables: Value[]; host: Host };
  /** Slots that came in with the write, blank or not. */
  private readonly sentSlots = new Set<number>();
  private readonly authors = new Map<number, Author>();
  private readonly held: Set<number>;
  /** Place of each slot among what was typed; a value that a rule wrote takes that of its latest cause. */
  private readonly typedAt = new Map<number, number>();
  /** Values sent for locked fields: not taken, but compared with what the rules say. */
  private readonly refusable = new Map<number, Stored>();
  private readonly messages: Message[] = [];
  private readonly entries = new Map<number, TraceEntry>();
  /** What validate rules ask of fields. */
  private readonly demanded = new Map<number, FieldState>();
  /** Rules to be considered, by their place in the order. */
  private readonly woken: Uint8Array;
  private unsettled = false;

  constructor(type: TypeProgram, write: Write, tracing: boolean, host: Host) {
    this.type = type;
    this.write = write;
    this.tracing = tracing;
    const { slots, rules, slotOf } = type;
    const data = write.before?.data;
    this.before = slots.map(({ field, type: t }) => (data ? (data[field.key] ?? null) : t.starting));
    this.after = [...this.before];
    const previous = slots.map(({ field, type: t }, i) => t.read(data ? this.before[i]! : null, field));
    const record = slots.map(({ field, type: t }, i) => t.read(this.after[i]!, field));
    this.env = { record, previous, variables: [], host: { ...host, now: write.now } };
    this.held = new Set((write.before?.held ?? []).flatMap((key) => slotOf.get(key) ?? []));
    this.woken = new Uint8Array(rules.length);
    this.wakeFirst();
  }

  /** Step 3's standing causes: a new record, *every write*, rules named by a backfill or request. */
  private wakeFirst(): void {
    for (const r of this.type.everyWrite) this.woken[r.at] = 1;
    const named = new Set(this.write.woken ?? []);
    const isNew = this.write.before === null;
    if (!isNew && named.size === 0) return;
    for (const r of this.type.rules) if ((isNew && r.standing) || named.has(r.rule.key)) this.woken[r.at] = 1;
  }

  /** Step 1: `after` = before + sent, coerced; what cannot be coerced is a message on its field. */
  takeSent(): void {
    const { slotOf, slots, locked } = this.type;
    const byHand = this.isByHand();
    this.write.typed.forEach((key, i) => {
      const slot = slotOf.get(key);
      if (slot !== undefined) this.typedAt.set(slot, i + 1);
    });
    for (const [key, value] of Object.entries(this.write.sent)) {
      const slot = slotOf.get(key);
      if (slot === undefined) {
        this.messages.push({ severity: 'stop', field: key, text: `There is no field ${key}.` });
        continue;
      }
      this.sentSlots.add(slot);
      const { field, type } = slots[slot]!;
      const coerced = type.coerce(value, field);
      if ('problem' in coerced) {
        this.messages.push({ severity: 'stop', field: key, text: `${shown(value)} ${coerced.problem}.` });
        continue;
      }
      if (locked.has(slot)) {
        this.refusable.set(slot, coerced.value);
        continue;
      }
      if (byHand && this.write.typed.includes(key)) this.held.add(slot);
      if (!sameStored(this.after[slot], coerced.value)) this.assign(slot, coerced.value, { by: 'sent' });
    }
  }

  private isByHand(): boolean {
    const entry = entryPointsOf(this.type.recordType).find((e) => e.key === this.write.entryPoint);
    return entry?.byHand ?? false;
  }

  private assign(slot: number, value: Stored, author: Author): void {
    const { field, type } = this.type.slots[slot]!;
    this.after[slot] = value;
    this.env.record[slot] = type.read(value, field);
    this.authors.set(slot, author);
    for (const at of this.type.wokenBy[slot]!) this.woken[at] = 1;
  }

  /** Steps 3 to 6: down the order once; the rules of a circle repeat until nothing changes. */
  goDown(): void {
    const { rules } = this.type;
    for (let at = 0; at < rules.length;) {
      if (!this.woken[at]) {
        at++;
        continue;
      }
      const rule = rules[at]!;
      if (rule.circle < 0) {
        this.consider(rule);
        at++;
      } else at = this.circle(rule.circle);
    }
  }

  /** Runs a circle to rest; returns the place behind it. */
  private circle(circle: number): number {
    const ring = this.type.rules.filter((r) => r.circle === circle);
    for (let round = 1; ; round++) {
      const awake = ring.filter((r) => this.woken[r.at]);
      if (awake.length === 0) break;
      if (round > circleRounds) {
        this.unsettled = true;
        const names = ring.map((r) => r.rule.name).join(', ');
        this.messages.push({ severity: 'stop', text: `These rules depend on each other and do not settle: ${names}.` });
        break;
      }
      for (const r of awake) {
        this.woken[r.at] = 0;
        this.consider(r, round > 1);
      }
    }
    return ring[ring.length - 1]!.at + 1;
  }

  private changed(slot: number): boolean {
    return !sameStored(this.before[slot], this.after[slot]);
  }

  private consider(r: CompiledRule, again = false): void {
    const { rule } = r;
    // Constraints are looked at once, on the settled record.
    if (r.demands) return;
    const named = this.write.woken?.includes(rule.key) ?? false;
    if (!rule.on) return this.note(r, 'off');
    if (!r.sound) return this.note(r, 'broken');
    if (!named && !rule.moments.includes(this.write.moment)) return this.note(r, 'other moment');
    if (!named && !rule.entryPoints.includes(this.write.entryPoint)) return this.note(r, 'other entry point');
    const isNew = this.write.before === null;
    const awake =
      again || named || rule.repeat === 'every' || (isNew && r.standing) || r.wakes.some((s) => this.changed(s));
    if (!awake) return this.note(r, 'asleep');
    const holds = r.condition ? r.condition(this.env) : true;
    if (holds !== true) return this.note(r, holds === false ? 'condition false' : 'condition unknown');
    if (rule.repeat === 'starts' && !named && this.heldBefore(r)) return this.note(r, 'already held');
    this.act(r);
  }

  /** Whether the condition was true for the stored record as well. */
  private heldBefore(r: CompiledRule): boolean {
    if (this.write.before === null || !r.condition) return false;
    const env: Environment = { record: this.env.previous, previous: this.env.previous };
    return r.condition(env) === true;
  }

  /** Step 4: the outcomes in order. */
  private act(r: CompiledRule): void {
    const read = this.tracing ? this.readBy(r) : [];
    const outcomes: TraceOutcome[] = [];
    let stop: string | undefined;
    this.env.variables.length = 0;
    for (const step of r.steps ?? [])
      for (const effect of step(this.env)) {
        if (effect.act === 'keep') {
          this.env.variables[effect.place] = effect.value;
          continue;
        }
        const done = this.apply(r, effect);
        outcomes.push(done.outcome);
        stop ??= done.stop;
      }
    if (stop !== undefined) return this.note(r, 'stops', outcomes, read, stop);
    const wrote = outcomes.some((o) => !sameStored(o.from, o.to));
    this.note(r, wrote ? 'ran' : 'no effect', outcomes, read);
  }

  private apply(r: CompiledRule, effect: Exclude<Effect, { act: 'keep' }>): { outcome: TraceOutcome; stop?: string } {
    const slot = effect.target;
    const { field, type } = this.type.slots[slot]!;
    const from = this.after[slot]!;
    const outcome = (to: Stored, cause?: TraceOutcome['cause']): TraceOutcome => ({
      field: field.key,
      from,
      to,
      ...(effect.act === 'set' && effect.branch !== undefined ? { branch: effect.branch } : {}),
      ...(cause ? { cause } : {}),
    });
    const refuse = (text: string, cause?: TraceOutcome['cause']): { outcome: TraceOutcome; stop: string } => {
      this.messages.push({ severity: 'stop', field: field.key, rule: r.rule.key, text });
      return { outcome: outcome(from, cause), stop: text };
    };
    if (effect.act === 'leave') return { outcome: outcome(from, effect.cause) };
    if (effect.act === 'stop')
      return refuse(effect.message || `${r.rule.name} gives no value for ${field.name}.`, effect.cause);
    if (effect.act === 'fill' && (!isBlankStored(from) || this.sentSlots.has(slot)))
      return { outcome: outcome(from, 'filled already') };
    const person = this.personWins(r, slot);
    if (person) return { outcome: outcome(from, person) };
    const coerced = type.coerce(effect.value, field);
    if ('problem' in coerced)
      return refuse(`${r.rule.name} gives ${valueToText(effect.value)}, which ${coerced.problem}.`);
    const to = coerced.value;
    this.held.delete(slot);
    const cause = effect.act === 'set' ? effect.cause : undefined;
    if (sameStored(from, to)) return { outcome: outcome(from, cause ?? 'same value') };
    const latest = this.latestCause(r);
    if (latest > 0) this.typedAt.set(slot, latest);
    this.assign(slot, to, { by: 'rule', rule: r.rule.key });
    return { outcome: outcome(to, cause) };
  }

  /** Step 5: why a value set by hand stands against the rule, if it does. */
  private personWins(r: CompiledRule, slot: number): 'held by a person' | 'typed later' | undefined {
    const { winner } = r.rule;
    if (winner === 'person' && this.held.has(slot)) return 'held by a person';
    if (winner === 'later' && this.authors.get(slot)?.by !== 'rule') {
      const typed = this.typedAt.get(slot);
      if (typed !== undefined && this.latestCause(r) < typed) return 'typed later';
    }
    return undefined;
  }

  private latestCause(r: CompiledRule): number {
    let latest = 0;
    for (const slot of r.wakes) if (this.changed(slot)) latest = Math.max(latest, this.typedAt.get(slot) ?? 0);
    return latest;
  }

  private readBy(r: CompiledRule): TraceEntry['read'] {
    const { slots } = this.type;
    return [
      ...r.reads.present.map((s) => ({ name: slots[s]!.field.name, value: this.after[s]! })),
      ...r.reads.previous.map((s) => ({ name: `previous.${slots[s]!.field.name}`, value: this.before[s]! })),
    ];
  }

  private note(
    r: CompiledRule,
    verdict: TraceVerdict,
    outcomes: readonly TraceOutcome[] = [],
    read?: TraceEntry['read'],
    message?: string,
  ): void {
    if (!this.tracing) return;
    const considered = verdict.startsWith('condition') || verdict === 'already held';
    this.entries.set(r.at, {
      rule: r.rule.key,
      verdict,
      wokenBy: this.names(verdict === 'asleep' ? r.wakes : r.wakes.filter((s) => this.changed(s))),
      read: read ?? (considered ? this.readBy(r) : []),
      outcomes,
      ...(message === undefined ? {} : { message }),
    });
  }

  private names(slots: readonly number[]): string[] {
    return slots.map((s) => this.type.slots[s]!.field.name);
  }

  finish(): Settlement {
    this.refuseLocked();
    this.constrain();
    this.requireFilled();
    const stopped = this.messages.some((m) => m.severity === 'stop');
    const verdict: Verdict = this.unsettled ? 'does not settle' : stopped ? 'stopped' : 'saved';
    const { slots } = this.type;
    const data: Record<string, Stored> = {};
    const changes: Change[] = [];
    slots.forEach(({ field }, slot) => {
      const to = this.after[slot]!;
      if (!isBlankStored(to)) data[field.key] = to;
      if (this.changed(slot))
        changes.push({
          field: field.key,
          from: this.before[slot]!,
          to,
          author: this.authors.get(slot) ?? { by: 'sent' },
        });
    });
    const held = slots.flatMap(({ field }, slot) => (this.held.has(slot) ? [field.key] : []));
    return { verdict, data, held, changes, states: this.states(), messages: this.messages, trace: this.trace() };
  }

  /** A value sent for a locked field that differs from the settled one is refused at every entry point. */
  private refuseLocked(): void {
    for (const [slot, value] of this.refusable) {
      if (sameStored(value, this.after[slot])) continue;
      const { field, type } = this.type.slots[slot]!;
      const { rule } = this.type.locked.get(slot)!;
      const settled = type.format(this.after[slot]!, field) || 'blank';
      this.messages.push({
        severity: 'stop',
        field: field.key,
        rule: rule.key,
        text: `${field.name} is locked: ${rule.name} gives ${settled}.`,
      });
    }
  }

  /** Step 7: constraints on the settled record, whatever their order; all messages come together, each on its field. */
  private constrain(): void {
    for (const r of this.type.demanding) {
      const demands = r.demands!;
      if (!this.mayAct(r)) continue;
      const said = this.messages.length;
      if (r.condition && r.condition(this.env) !== true) {
        this.note(r, r.condition(this.env) === false ? 'condition false' : 'condition unknown');
        continue;
      }
      for (const slot of demands.hidden) this.demanded.set(slot, { ...this.demanded.get(slot), hidden: r.rule.key });
      for (const slot of demands.required) {
        this.demanded.set(slot, { ...this.demanded.get(slot), required: true });
        const { field } = this.type.slots[slot]!;
        if (isBlankStored(this.after[slot])) this.say(r, 'stop', `${field.name} has to be filled in.`, slot);
      }
      for (const c of demands.constraints) if (c.holds(this.env) === false) this.say(r, c.severity, c.message, c.field);
      const stops = this.messages.slice(said).find((m) => m.severity === 'stop');
      this.note(r, stops ? 'stops' : 'ran', [], this.tracing ? this.readBy(r) : [], stops?.text);
    }
  }

  private mayAct({ rule }: CompiledRule): boolean {
    return rule.moments.includes(this.write.moment) && rule.entryPoints.includes(this.write.entryPoint);
  }

  private say(r: CompiledRule, severity: Message['severity'], text: string, slot: number | undefined): void {
    const field = slot === undefined ? {} : { field: this.type.slots[slot]!.field.key };
    this.messages.push({ severity, text, rule: r.rule.key, ...field });
  }

  private requireFilled(): void {
    if (this.write.moment !== 'creating' && this.write.moment !== 'updating') return;
    this.type.slots.forEach(({ field }, slot) => {
      if (!field.required || !isBlankStored(this.after[slot])) return;
      if (this.messages.some((m) => m.severity === 'stop' && m.field === field.key)) return;
      this.messages.push({ severity: 'stop', field: field.key, text: `${field.name} has to be filled in.` });
    });
  }

  private states(): Record<string, FieldState> {
    const states: Record<string, FieldState> = {};
    this.type.slots.forEach(({ field }, slot) => {
      const locked = this.type.locked.get(slot)?.rule.key;
      const state: FieldState = {
        ...this.demanded.get(slot),
        ...(field.required ? { required: true } : {}),
        ...(locked === undefined ? {} : { locked }),
      };
      if (Object.keys(state).length > 0) states[field.key] = state;
    });
    return states;
  }

  /** An entry for every rule, in order: those that were not considered say why. */
  private trace(): TraceEntry[] {
    if (!this.tracing) return [];
    return this.type.rules.map((r) => {
      if (!this.entries.has(r.at)) this.explainIdle(r);
      return this.entries.get(r.at)!;
    });
  }

  private explainIdle(r: CompiledRule): void {
    const { rule } = r;
    if (!rule.on) this.note(r, 'off');
    else if (!r.sound) this.note(r, 'broken');
    else if (!rule.moments.includes(this.write.moment)) this.note(r, 'other moment');
    else if (!rule.entryPoints.includes(this.write.entryPoint)) this.note(r, 'other entry point');
    else this.note(r, 'asleep');
  }
}

function shown(v: unknown): string {
  if (v instanceof Decimal) return v.toString();
  const text = typeof v === 'string' ? v : JSON.stringify(v);
  return text.length > 80 ? `${text.slice(0, 79)}…` : text;
}
