/**
 * The state of one write while it settles: values before and after, who set them, what woke, what was said. One is used
 * again for the next write of its record type, so that many writes make little garbage.
 */
import type { RecordRef } from '../values/value.ts';
import type { Environment } from '../language/expression/runtime.ts';
import { isBlankStored, sameStored } from '../language/field-types/field-type.ts';
import { writtenLoose } from '../language/wording/written.ts';
import type { Writing } from '../language/types/writing.ts';
import type { Stored } from '../document/document.ts';
import { Exhausted, stepBudget, type Deadline, type Shortage } from '../values/meter.ts';
import type { Value } from '../values/value.ts';
import { Agenda } from './agenda.ts';
import type { EntryPoint } from '../compile/entry-points.ts';
import type { CompiledRule, Program, TypeProgram } from '../compile/compiled.ts';
import { type OwnRecord, RelatedReader, Unanswered } from '../records/related-reader.ts';
import { hostAt, RunEnvironment } from './run-environment.ts';
import type { FieldState, Message, Notification, RelatedWrite, SettleOptions } from './settlement.ts';
import type { Author } from '../compile/trace-entry.ts';
import type { Write } from '../records/write.ts';
import { note, Trace } from './trace.ts';
import { emptySource, type RecordSource } from '../records/record-source.ts';
import type { SlotIndex } from '../document/slots.ts';

const sentAuthor: Author = { by: 'sent' };
const none: readonly never[] = [];
const noWrite: Write = {
  recordType: '',
  before: null,
  sent: {},
  typed: [],
  moment: 'updating',
  entryPoint: '',
  now: '',
};

export class Run implements OwnRecord {
  readonly program: Program;
  readonly type: TypeProgram;
  readonly before: Stored[];
  readonly after: Stored[];
  readonly env: RunEnvironment;
  /** Rules to be considered, by their place in the order. */
  readonly woken: Agenda;
  /** By slot, 1 where it is so: set by hand last; came in with the write, blank or not. */
  readonly held: Uint8Array;
  readonly sent: Uint8Array;
  /** Place of each slot among what was typed, from 1; a value that a rule wrote takes that of its latest cause. */
  readonly typedAt: Int32Array;
  /** By place, 1 where a backfill or request asks for the rule by its key. */
  private readonly asked: Uint8Array;
  /** The keys that `asked` stands for, which nobody changes: of a backfill the same list, record by record. */
  private askedKeys: readonly string[] | undefined;
  /** Members of the stored record that were read into slots. */
  stored = 0;
  write = noWrite;
  world: RecordSource = emptySource;
  entryPoint: EntryPoint | undefined;
  /** Which rules may act in this write, by place. */
  admitted: readonly boolean[] = none;
  /** Absent where no trace is wanted. */
  trace: Trace | undefined;
  /** Rules that acted and have something to tell once the record is settled. */
  telling: Set<CompiledRule> | undefined;
  /** Keys of the rules that acted because their condition started to hold. */
  started: string[] | undefined;
  /** What validate rules ask of fields. */
  states: Map<SlotIndex, FieldState> | undefined;
  /** Values sent for locked fields: not taken, but compared with what the rules say. */
  refusable: Map<SlotIndex, Stored> | undefined;
  private said: Message[] | undefined;
  private sendOut: Notification[] | undefined;
  private written: RelatedWrite[] | undefined;
  writing: Writing;
  private readonly authors: (Author | undefined)[];
  private deadline: Deadline | undefined;
  /** Slots whose value hangs on a question without an answer. */
  private pending: Set<number> | undefined;

  constructor(program: Program, type: TypeProgram) {
    const n = type.slots.length;
    this.program = program;
    this.writing = program.writing;
    this.type = type;
    this.before = new Array<Stored>(n).fill(null);
    this.after = new Array<Stored>(n).fill(null);
    const record = new Array<Value>(n).fill(null);
    const previous = type.readsPrevious ? new Array<Value>(n).fill(null) : record;
    this.env = new RunEnvironment(record, previous, () => this.makeReader(false));
    this.authors = new Array<Author | undefined>(n).fill(undefined);
    this.held = new Uint8Array(n);
    this.sent = new Uint8Array(n);
    this.typedAt = new Int32Array(n);
    this.woken = new Agenda(type.rules.length);
    this.asked = new Uint8Array(type.rules.length);
  }

  /** Another write begins: nothing of the former one is left. */
  reset(write: Write, world: RecordSource, options: SettleOptions): void {
    const { trace = true, host = this.program.host, writing = this.program.writing, deadline } = options;
    const { type, before, after, authors } = this;
    const { slots, slotOf, rules } = type;
    const { record, previous } = this.env;
    this.write = write;
    this.world = world;
    this.trace = trace ? new Trace(rules.length) : undefined;
    this.entryPoint = type.entryPoints.get(write.entryPoint);
    this.admitted = type.admitted(write.moment, write.entryPoint);
    this.deadline = deadline;
    this.writing = writing;
    this.started = undefined;
    this.telling = this.states = this.refusable = this.said = this.sendOut = this.written = this.pending = undefined;
    this.woken.clear();
    this.held.fill(0);
    this.sent.fill(0);
    this.typedAt.fill(0);
    this.noteAsked(write.woken);
    this.stored = 0;
    const own = hostAt(host, write.now, this.program.rulebook.zone);
    this.env.reset(own, deadline);
    const data = write.before?.data;
    const { starting } = type;
    for (let i = 0; i < slots.length; i++) {
      authors[i] = undefined;
      if (data) {
        const { field, type: fieldType } = slots[i]!;
        const stored = data[field.key] ?? null;
        before[i] = after[i] = stored;
        if (stored !== null) this.stored++;
        record[i] = stored === null ? starting.previous[i]! : fieldType.read(stored, field, own);
      } else {
        before[i] = after[i] = starting.stored[i]!;
        record[i] = starting.values[i]!;
      }
      if (previous !== record) previous[i] = data ? record[i]! : starting.previous[i]!;
    }
    for (const key of write.before?.held ?? none) {
      const slot = slotOf.get(key);
      if (slot !== undefined) this.held[slot] = 1;
    }
  }

  private noteAsked(keys: readonly string[] | undefined): void {
    if (keys === this.askedKeys) return;
    this.askedKeys = keys;
    const asked = new Set(keys);
    for (const { rule, runIndex } of this.type.rules) this.asked[runIndex] = asked.has(rule.key) ? 1 : 0;
  }

  private makeReader(former: boolean): RelatedReader {
    const { program, write, world, env } = this;
    if (!former) return new RelatedReader(program, write, world, this, env.host);
    const own: OwnRecord = {
      type: this.type,
      value: (slot) => env.previous[slot]!,
      changed: () => false,
    };
    return new RelatedReader(program, write, world.former ?? world, own, env.host, true);
  }

  /** The stored record as a formula would see it in place of the present one, among the others as they were. */
  environmentBefore(): Environment {
    const { previous, host, meter } = this.env;
    const then = this.write.before?.now;
    const at = then === undefined ? host : { ...host, now: then };
    return { record: previous, previous, host: at, related: this.makeReader(true), meter, variables: [] };
  }

  get messages(): readonly Message[] {
    return this.said ?? none;
  }

  get notifications(): readonly Notification[] {
    return this.sendOut ?? none;
  }

  get writes(): readonly RelatedWrite[] {
    return this.written ?? none;
  }

  value(slot: SlotIndex): Value {
    return this.env.record[slot]!;
  }

  changed(slot: SlotIndex): boolean {
    const a = this.before[slot];
    const b = this.after[slot];
    return a !== b && !sameStored(a, b);
  }

  isBlank(slot: SlotIndex): boolean {
    return isBlankStored(this.after[slot]);
  }

  author(slot: SlotIndex): Author {
    return this.authors[slot] ?? sentAuthor;
  }

  setByRule(slot: SlotIndex): boolean {
    return this.authors[slot]?.by === 'rule';
  }

  /** A new value; the rules that it wakes are looked at, save the one that gave it. */
  assign(slot: SlotIndex, value: Stored, author: Author, giver = -1): void {
    const { field, type } = this.type.slots[slot]!;
    this.after[slot] = value;
    this.env.record[slot] = type.read(value, field, this.env.host);
    this.authors[slot] = author;
    const woken = this.type.wokenBy[slot]!;
    for (let i = 0; i < woken.length; i++) if (woken[i] !== giver) this.woken.add(woken[i]!);
  }

  /** A new value that comes from outside: sent, or given by the rule of another record. */
  take(slot: SlotIndex, value: Stored, author: Author = sentAuthor): void {
    if (!sameStored(this.after[slot], value)) this.assign(slot, value, author);
  }

  /** Whether a backfill or request asks for the rule, be it in order or not. */
  isAskedFor({ runIndex }: CompiledRule): boolean {
    return this.asked[runIndex] === 1;
  }

  /** Whether a backfill or request names the rule. */
  isNamed(r: CompiledRule): boolean {
    return r.compiles && r.rule.on && this.isAskedFor(r);
  }

  /** Whether the rule takes part in this write: by moment and entry point, or since it is named. */
  takesPart(r: CompiledRule): boolean {
    return this.admitted[r.runIndex] === true || this.isNamed(r);
  }

  get related(): RelatedReader {
    return this.env.related;
  }

  /** A rule that asks for what has no answer yet waits; one that takes too much work fails. */
  caught(r: CompiledRule, e: unknown): void {
    if (e instanceof Unanswered) this.suspend(r);
    else if (e instanceof Exhausted) this.fail(r, e.of);
    else throw e;
  }

  /** A rule whose formulas take more work than they may: nothing is saved. */
  fail(r: CompiledRule, of: Shortage): void {
    this.env.meter.exhausted = undefined;
    const text =
      of === 'steps'
        ? `${r.rule.name} takes too long: a formula of it goes beyond ${writtenLoose(stepBudget, this.writing)} steps.`
        : `${r.rule.name} takes too long: the rules have ${this.deadline!.ms} ms for one write, and it goes beyond.`;
    this.say(r, 'stop', text);
    note(this, r, 'failed', none, undefined, text);
  }

  suspend(r: CompiledRule): void {
    this.pending ??= new Set();
    for (const slot of r.writes) this.pending.add(slot);
    note(this, r, 'waiting');
  }

  /** Whether a rule reads what hangs on a question without an answer. */
  waits(r: CompiledRule): boolean {
    const { pending } = this;
    return pending !== undefined && r.reads.present.some((s) => pending.has(s));
  }

  say(r: CompiledRule, severity: Message['severity'], text: string, slot = -1): void {
    const field = slot < 0 ? {} : { field: this.type.slots[slot]!.field.key };
    this.addMessage({ severity, text, rule: r.rule.key, ...field });
  }

  addMessage(message: Message): void {
    (this.said ??= []).push(message);
  }

  send(write: RelatedWrite): void {
    (this.written ??= []).push(write);
  }

  /** What rules gave a field of another record so far in this write; undefined where none did. */
  givenTo({ recordType, id }: RecordRef, field: string): Stored | undefined {
    return this.written?.findLast((w) => w.recordType === recordType && w.id === id && w.field === field)?.value;
  }

  notify(made: readonly Notification[]): void {
    (this.sendOut ??= []).push(...made);
  }

  /** What a rule said and sent in an earlier round does not count: it is looked at again. */
  forget({ rule }: CompiledRule): void {
    const others = (x: { readonly rule?: string }): boolean => x.rule !== rule.key;
    this.said = this.said?.filter(others);
    this.written = this.written?.filter(others);
    for (const r of this.telling ?? []) if (r.rule === rule) this.telling!.delete(r);
  }

  state(slot: SlotIndex, more: FieldState): void {
    this.states ??= new Map();
    this.states.set(slot, { ...this.states.get(slot), ...more });
  }
}
