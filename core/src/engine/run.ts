/** The state of one write while it settles: values before and after, who set them, what woke, what was said. */
import type { Environment } from '../expression/runtime.ts';
import { isBlankStored, sameStored } from '../field-types/field-type.ts';
import { groupDigits } from '../field-types/number.ts';
import type { Host } from '../functions/function.ts';
import type { Stored } from '../rulebook/document.ts';
import { Exhausted, Meter, stepBudget } from '../values/meter.ts';
import type { Value } from '../values/value.ts';
import { Agenda } from './agenda.ts';
import type { EntryPoint } from './entry-points.ts';
import type { CompiledRule, Program, TypeProgram } from './program.ts';
import { type OwnRecord, RelatedReader, Unanswered } from './related-reader.ts';
import type {
  Author,
  FieldState,
  Message,
  Notification,
  RelatedWrite,
  TraceEntry,
  TraceOutcome,
  TraceVerdict,
  Write,
} from './settlement.ts';
import type { World } from './world.ts';

const sentAuthor: Author = { by: 'sent' };
const noNames: readonly string[] = [];
const noReads: TraceEntry['read'] = [];

const zeros = (n: number): number[] => new Array<number>(n).fill(0);
const truth = (v: Value): boolean | null => (typeof v === 'boolean' ? v : null);

/** What formulas run on; the reader of other records is made when one is first asked for. */
class RunEnvironment implements Environment {
  readonly record: Value[];
  readonly previous: readonly Value[];
  readonly variables: Value[] = [];
  readonly meter = new Meter();
  readonly host: Host;
  private reader: RelatedReader | undefined;
  private readonly run: Run;

  constructor(record: Value[], previous: readonly Value[], host: Host, run: Run) {
    this.record = record;
    this.previous = previous;
    this.host = host;
    this.run = run;
  }

  get related(): RelatedReader {
    return (this.reader ??= this.run.makeReader());
  }

  /** The reader, if anything was asked of it. */
  get asked(): RelatedReader | undefined {
    return this.reader;
  }
}

/** The host of one moment: writes of a batch share it. */
let lastHost: { readonly host: Host; readonly now: string; readonly zone: string; readonly made: Host } | undefined;

function hostAt(host: Host, now: string, zone: string): Host {
  if (lastHost?.host !== host || lastHost.now !== now || lastHost.zone !== zone)
    lastHost = { host, now, zone, made: { ...host, now, zone } };
  return lastHost.made;
}

export class Run implements OwnRecord {
  readonly type: TypeProgram;
  readonly write: Write;
  readonly tracing: boolean;
  readonly entryPoint: EntryPoint | undefined;
  readonly before: readonly Stored[];
  readonly after: Stored[];
  readonly env: RunEnvironment;
  /** Rules to be considered, by their place in the order. */
  readonly woken: Agenda;
  readonly held: number[];
  /** Slots that came in with the write, blank or not. */
  readonly sent: number[];
  /** Place of each slot among what was typed, from 1; a value that a rule wrote takes that of its latest cause. */
  readonly typedAt: number[];
  readonly messages: Message[] = [];
  readonly notifications: Notification[] = [];
  readonly writes: RelatedWrite[] = [];
  /** What validate rules ask of fields. */
  states: Map<number, FieldState> | undefined;
  /** Values sent for locked fields: not taken, but compared with what the rules say. */
  refusable: Map<number, Stored> | undefined;
  /** Which rules may act in this write, by place. */
  readonly admitted: readonly boolean[];
  private readonly authors: (Author | undefined)[];
  /** Slots whose value hangs on a question without an answer. */
  private pending: Set<number> | undefined;
  private readonly entries: (TraceEntry | undefined)[];
  private readonly program: Program;
  private readonly world: World;

  constructor(program: Program, type: TypeProgram, write: Write, world: World, tracing: boolean, given: Host) {
    this.program = program;
    this.world = world;
    this.type = type;
    this.write = write;
    this.tracing = tracing;
    this.entryPoint = type.entryPoints.get(write.entryPoint);
    this.admitted = type.admitted(write.moment, write.entryPoint);
    const { slots, rules, slotOf } = type;
    const host = hostAt(given, write.now, program.rulebook.zone);
    const n = slots.length;
    const data = write.before?.data;
    if (data) {
      const before = new Array<Stored>(n);
      const record = new Array<Value>(n);
      for (let i = 0; i < n; i++) {
        const { field, type: t } = slots[i]!;
        const stored = data[field.key] ?? null;
        before[i] = stored;
        record[i] = t.read(stored, field, host);
      }
      this.before = before;
      this.after = before.slice();
      this.env = this.environment(record, type.readsPrevious ? record.slice() : record, host);
    } else {
      const { starting } = type;
      this.before = starting.stored;
      this.after = starting.stored.slice();
      this.env = this.environment(starting.values.slice(), starting.previous, host);
    }
    this.authors = new Array<Author | undefined>(n);
    this.entries = tracing ? new Array<TraceEntry | undefined>(rules.length) : [];
    this.held = zeros(n);
    this.sent = zeros(n);
    this.typedAt = zeros(n);
    this.woken = new Agenda(rules.length);
    for (const key of write.before?.held ?? noNames) this.markHeld(slotOf.get(key));
  }

  private environment(record: Value[], previous: readonly Value[], host: Host): RunEnvironment {
    return new RunEnvironment(record, previous, host, this);
  }

  makeReader(): RelatedReader {
    return new RelatedReader(this.program, this.write, this.world, this, this.env.host);
  }

  private markHeld(slot: number | undefined): void {
    if (slot !== undefined) this.held[slot] = 1;
  }

  /** The stored record as a formula would see it in place of the present one. */
  environmentBefore(): Environment {
    const { write, program, world } = this;
    const own: OwnRecord = {
      type: this.type,
      value: (slot) => this.env.previous[slot]!,
      changed: () => false,
    };
    const related = new RelatedReader(program, write, world, own, this.env.host, true);
    const { previous, host, meter } = this.env;
    const then = write.before?.now;
    const at = then === undefined ? host : { ...host, now: then };
    return { record: previous, previous, host: at, related, meter, variables: [] };
  }

  value(slot: number): Value {
    return this.env.record[slot]!;
  }

  changed(slot: number): boolean {
    const a = this.before[slot];
    const b = this.after[slot];
    return a !== b && !sameStored(a, b);
  }

  isBlank(slot: number): boolean {
    return isBlankStored(this.after[slot]);
  }

  author(slot: number): Author {
    return this.authors[slot] ?? sentAuthor;
  }

  setByRule(slot: number): boolean {
    return this.authors[slot]?.by === 'rule';
  }

  assign(slot: number, value: Stored, author: Author): void {
    const { field, type } = this.type.slots[slot]!;
    this.after[slot] = value;
    this.env.record[slot] = type.read(value, field, this.env.host);
    this.authors[slot] = author;
    const { woken } = this;
    for (const at of this.type.wokenBy[slot]!) woken.add(at);
  }

  /** A new value that comes from outside, not from a rule. */
  take(slot: number, value: Stored): void {
    if (!sameStored(this.after[slot], value)) this.assign(slot, value, sentAuthor);
  }

  /** Nothing read yet for the rule that is considered now. */
  clearLog(): void {
    const { asked } = this.env;
    if (asked) asked.log.length = 0;
  }

  get related(): RelatedReader {
    return this.env.related;
  }

  /** A rule whose formulas take more work than they may: nothing is saved. */
  fail(r: CompiledRule): void {
    this.env.meter.exhausted = false;
    const text = `${r.rule.name} takes too long: a formula of it goes beyond ${groupDigits(stepBudget)} steps.`;
    this.say(r, 'stop', text);
    this.note(r, 'failed', [], undefined, text);
  }

  suspend(r: CompiledRule): void {
    this.pending ??= new Set();
    for (const slot of r.writes) this.pending.add(slot);
    this.note(r, 'waiting');
  }

  /** Whether a rule reads what hangs on a question without an answer. */
  waits(r: CompiledRule): boolean {
    const { pending } = this;
    return pending !== undefined && r.reads.present.some((s) => pending.has(s));
  }

  say(r: CompiledRule, severity: Message['severity'], text: string, slot?: number): void {
    const field = slot === undefined || slot < 0 ? {} : { field: this.type.slots[slot]!.field.key };
    this.messages.push({ severity, text, rule: r.rule.key, ...field });
  }

  state(slot: number, more: FieldState): void {
    this.states ??= new Map();
    this.states.set(slot, { ...this.states.get(slot), ...more });
  }

  readBy(r: CompiledRule): TraceEntry['read'] {
    if (!this.tracing) return noReads;
    const { slots } = this.type;
    const seen = new Set<string>();
    const related = (this.env.asked?.log ?? []).filter(({ name, value }) => {
      const key = `${name}\0${String(value)}`;
      return !seen.has(key) && seen.add(key);
    });
    return [
      ...r.reads.present.map((s) => ({ name: slots[s]!.field.name, value: this.after[s]! })),
      ...r.reads.previous.map((s) => ({ name: `previous.${slots[s]!.field.name}`, value: this.before[s]! })),
      ...related,
    ];
  }

  note(
    r: CompiledRule,
    verdict: TraceVerdict,
    outcomes: readonly TraceOutcome[] = [],
    read?: TraceEntry['read'],
    message?: string,
  ): void {
    if (!this.tracing) return;
    const considered = verdict.startsWith('condition') || verdict === 'already held';
    const wokenBy = verdict === 'asleep' ? r.wakes : r.wakes.filter((s) => this.changed(s));
    this.entries[r.at] = {
      rule: r.rule.key,
      verdict,
      wokenBy: wokenBy.map((s) => this.type.slots[s]!.field.name),
      read: read ?? (considered ? this.readBy(r) : noReads),
      ...this.partsOf(r, verdict),
      outcomes,
      ...(message === undefined ? {} : { message }),
    };
  }

  private weighed: { readonly rule: CompiledRule; readonly parts: Pick<TraceEntry, 'parts'> } | undefined;

  /** Keeps what the parts of a condition are now, before the rule acts and may change what they read. */
  weigh(r: CompiledRule): void {
    this.weighed = undefined;
    this.weighed = { rule: r, parts: this.partsOf(r, 'ran') };
  }

  private partsOf(r: CompiledRule, verdict: TraceVerdict): Pick<TraceEntry, 'parts'> {
    if (this.weighed?.rule === r) return this.weighed.parts;
    if (!r.condition || verdict === 'asleep' || verdict === 'waiting' || verdict.startsWith('other')) return {};
    const parts = r.conditionParts();
    if (parts.length === 0) return {};
    try {
      return { parts: parts.map(({ text, evaluate }) => ({ text, value: truth(evaluate(this.env)) })) };
    } catch (e) {
      if (e instanceof Unanswered) return {};
      throw e;
    }
  }

  /** An entry for every rule, in order: those that were not considered say why. */
  trace(): readonly TraceEntry[] {
    if (!this.tracing) return [];
    for (const r of this.type.rules) if (!this.entries[r.at]) this.noteIdle(r);
    return this.entries as readonly TraceEntry[];
  }

  noted(r: CompiledRule): TraceEntry | undefined {
    return this.entries[r.at];
  }

  /** Why a rule was not considered. */
  noteIdle(r: CompiledRule): void {
    if (!this.tracing) return;
    const { rule } = r;
    if (!rule.on) this.note(r, 'off');
    else if (!r.sound) this.note(r, 'broken');
    else if (!rule.moments.includes(this.write.moment)) this.note(r, 'other moment');
    else if (!rule.entryPoints.includes(this.write.entryPoint)) this.note(r, 'other entry point');
    else this.note(r, 'asleep');
  }
}

/** Looks at a rule; one that asks for what has no answer yet waits, one that takes too much work fails. */
export function attempt(run: Run, r: CompiledRule, look: () => void): void {
  const { meter } = run.env;
  try {
    look();
    if (meter.exhausted) run.fail(r);
  } catch (e) {
    if (e instanceof Unanswered) run.suspend(r);
    else if (e instanceof Exhausted) run.fail(r);
    else throw e;
  }
}
