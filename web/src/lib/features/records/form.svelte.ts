/**
 * A record on a form: what is stored, and in order what was typed. The whole is settled again from these after every
 * commit; what rules wrote in the last round is never an input, so what followed from a value goes when it is taken back.
 */
import { browserHost } from '$lib/host.svelte.ts';
import { compileProgram, formKey, type Program, type TraceEntry, type TypeProgram } from '@rigid-rule/core/compile';
import type { Moment, RecordData, RecordType, Rulebook, Stored, Field, User, Winner } from '@rigid-rule/core/document';
import { linkedType, recordTitle, sameStored, type Host } from '@rigid-rule/core/language';
import { AnsweredSource, type RecordQuery } from '@rigid-rule/core/records';
import { seenOf, overruled, typeInto, type Typed, type Effect } from '@rigid-rule/core/related';
import { settle, type Settlement } from '@rigid-rule/core/settle';
import type { Titles } from '$lib/features/fields';
import { nowIn } from '$lib/now.ts';
import {
  httpServer,
  type Elsewhere,
  type KeptTrace,
  type RecordServer,
  type SaveAnswer,
  type SaveRequest,
  type Stores,
} from './record-server.ts';

/** What the person has seen and agreed to instead of what the form shows. */
export interface Confirmed {
  readonly settlement: Settlement;
  readonly effects: readonly Effect[];
}

export interface Suggestion {
  readonly field: string;
  readonly value: Stored;
  readonly rule: string;
}

/** Answers lead to further questions at most as often as the engine allows. */
const mostPasses = 10;

export class RecordForm {
  readonly recordType: RecordType;
  readonly release: number | null;
  readonly formName: string;
  private readonly server: RecordServer;
  private readonly rulebook: Rulebook;
  /** Compiled once for what the browser's host can do by now. */
  private compiled: { readonly host: Host; readonly program: Program } | undefined;
  private get program(): Program {
    const host = browserHost.current;
    if (this.compiled?.host !== host) this.compiled = { host, program: compileProgram(this.rulebook, host) };
    return this.compiled.program;
  }
  /** The rules by which the form goes, those of the release that it was opened with. */
  get typeProgram(): TypeProgram {
    return this.program.types.get(this.typeKey)!;
  }
  private readonly typeKey: string;
  /** ISO 8601 instant of the last act on the form. */
  private now = $state('');
  stored = $state.raw<Stores | null>(null);
  typed = $state.raw<readonly Typed[]>([]);
  private readonly user: User | undefined;
  /** What is known of other records: asked of the server as rules want it. */
  private world = new AnsweredSource();
  /** Counts the answers that came: what was settled without them is settled again. */
  private answered = $state(0);
  private asking: Promise<void> | undefined;
  /** Standing rules whose answer the person took. */
  woken = $state.raw<readonly string[]>([]);
  /** Fields that the person handed back to their rules. */
  handedBack = $state.raw<readonly string[]>([]);

  constructor(
    rulebook: Rulebook,
    typeKey: string,
    release: number | null,
    formName: string,
    stored: Stores | null,
    user?: User,
    server: RecordServer = httpServer,
  ) {
    this.server = server;
    this.now = nowIn(rulebook.zone);
    this.rulebook = rulebook;
    this.typeKey = typeKey;
    browserHost.load(rulebook);
    this.recordType = rulebook.recordTypes.find((t) => t.key === typeKey)!;
    this.release = release;
    this.formName = formName;
    this.stored = stored;
    this.user = user;
  }

  /**
   * Settles the whole from what is stored and what was typed. `given`: values sent but not typed; where they stand for a
   * field that was typed as well, a rule has overruled it.
   */
  private settleAt(
    moment: Moment,
    given: Readonly<Record<string, unknown>> = {},
    woken = this.woken,
    typed = this.typed.filter((t) => !(t.key in given)),
  ): Settlement {
    void this.answered;
    const write = {
      recordType: this.recordType.key,
      ...(this.stored ? { id: String(this.stored.id) } : {}),
      ...(this.user ? { user: this.user } : {}),
      before: this.stored,
      sent: { ...this.begun, ...given, ...Object.fromEntries(typed.map((t) => [t.key, t.value])) },
      typed: typed.map((t) => t.key),
      moment,
      entryPoint: formKey(this.formName),
      now: this.now,
      woken,
      handBack: this.handedBack,
    };
    return settle(this.program, write, this.world);
  }

  private readonly opening: Settlement | undefined = $derived.by(() => {
    void this.answered;
    if (this.stored) return undefined;
    return settle(
      this.program,
      {
        recordType: this.recordType.key,
        ...(this.user ? { user: this.user } : {}),
        before: null,
        sent: {},
        typed: [],
        moment: 'opening',
        entryPoint: formKey(this.formName),
        now: this.now,
      },
      this.world,
    );
  });

  /** What a blank form opens with: given by rules, to be changed or cleared like anything else. */
  private readonly begun: Readonly<Record<string, Stored>> = $derived.by(() =>
    Object.fromEntries(
      (this.opening?.changes ?? []).flatMap((c) => (c.author.by === 'rule' ? [[c.field, c.to] as const] : [])),
    ),
  );

  /** What rules ask of other records and nobody has answered yet. */
  readonly asks: readonly RecordQuery[] = $derived.by(() => {
    const all = [this.opening, this.settlement, this.saving, this.explained].flatMap((s) => s?.asks ?? []);
    return [...new Map(all.map((ask) => [JSON.stringify(ask), ask])).values()];
  });

  /** Has the open questions answered; a rule that waits acts once they are. @throws where the server cannot be reached. */
  async answerAsks(): Promise<void> {
    if (this.asking) await this.asking;
    if (this.asks.length === 0) return;
    this.asking = this.fetchAnswers(this.asks).finally(() => (this.asking = undefined));
    await this.asking;
  }

  /** Titles of records that rules linked to and the page did not bring along, by type and id. */
  learned = $state.raw<Titles>({});

  private readonly unnamed: readonly RecordQuery[] = $derived.by(() =>
    this.recordType.fields.flatMap((f): RecordQuery[] => {
      const recordType = linkedType(f);
      if (!recordType) return [];
      const suggested = this.suggestions.find((s) => s.field === f.key)?.value;
      return [this.value(f.key), suggested].flatMap((id): RecordQuery[] =>
        typeof id === 'string' && this.learned[recordType]?.[id] === undefined
          ? [{ kind: 'record', recordType, id }]
          : [],
      );
    }),
  );

  /** Asks what linked records are called; `known` are those that need no asking. */
  async nameLinks(known: Titles): Promise<void> {
    const asks = this.unnamed.filter((a) => a.kind === 'record' && known[a.recordType]?.[a.id] === undefined);
    if (asks.length === 0) return;
    const found = await this.server.related(asks, this.release);
    const learned = { ...this.learned };
    asks.forEach((ask, i) => {
      if (ask.kind !== 'record') return;
      const type = this.rulebook.recordTypes.find((t) => t.key === ask.recordType);
      const data = found[i]?.[0]?.data ?? {};
      const title = type && recordTitle(type, data);
      learned[ask.recordType] = { ...learned[ask.recordType], [ask.id]: title || ask.id };
    });
    this.learned = learned;
  }

  private async fetchAnswers(asks: readonly RecordQuery[]): Promise<void> {
    const answers = await this.server.related(asks, this.release);
    asks.forEach((ask, i) => this.world.put(ask, answers[i] ?? []));
    for (const ask of asks) this.asked.set(JSON.stringify(ask), ask);
    this.answered++;
  }

  /** All that was ever asked in this sitting: asked again with each act, since others write meanwhile. */
  private readonly asked = new Map<string, RecordQuery>();

  /** Clock and linked records as they are now: with each act, and while nothing happens every so often. */
  async refresh(): Promise<void> {
    this.now = nowIn(this.rulebook.zone);
    if (this.asked.size > 0) await this.fetchAnswers([...this.asked.values()]);
  }

  /** What stands on the form. */
  readonly settlement: Settlement = $derived.by(() => this.settleAt('editing'));

  private readonly savingMoment = $derived<Moment>(this.stored ? 'updating' : 'creating');

  /** Results of rules that run only on forms: sent when saving, as sent and not as typed. */
  private readonly formOnly: RecordData = $derived.by(() => {
    const onlyForms = new Set(
      this.typeProgram.rules.filter((r) => !r.rule.moments.includes(this.savingMoment)).map((r) => r.rule.key),
    );
    const { changes, data } = this.settlement;
    const keys = new Set([...changes.map((c) => c.field), ...this.typed.map((t) => t.key)]);
    return Object.fromEntries(
      [...keys].flatMap((key) => (onlyForms.has(this.ruleBehind(key) ?? '') ? [[key, data[key] ?? null]] : [])),
    );
  });

  /**
   * Key of the rule whose value stands on a field that was typed into or changed. A rule that took back what was typed
   * stands behind it too, although nothing is changed then.
   */
  private ruleBehind(key: string): string | undefined {
    const change = this.settlement.changes.find((c) => c.field === key);
    if (change) return change.author.by === 'rule' ? change.author.rule : undefined;
    const field = this.recordType.fields.find((f) => f.key === key);
    return field && this.overruled(field) !== undefined ? this.written(key)?.rule : undefined;
  }

  /** What saving would give, by the release that this form works under. */
  readonly saving: Settlement = $derived.by(() => this.settleAt(this.savingMoment, this.formOnly));

  /** Keys of the fields that stand on this form. */
  private readonly shown: readonly string[] = $derived.by(() => {
    const form = this.recordType.forms.find((f) => f.key === this.formName);
    return form?.fields ?? this.recordType.fields.map((f) => f.key);
  });

  /** Why each worked-out value is what it is, also where nothing changed in this sitting. */
  private readonly explained = $derived.by(() => {
    const standing = this.typeProgram.rules.filter((r) => r.standing && r.rule.on).map((r) => r.rule.key);
    return this.settleAt('editing', {}, standing);
  });

  /** Where the live rules say something else than is stored. */
  readonly suggestions: readonly Suggestion[] = $derived.by(() => {
    if (!this.stored) return [];
    return this.explained.changes.flatMap((c) =>
      c.author.by === 'rule' && !sameStored(c.to, this.value(c.field))
        ? [{ field: c.field, value: c.to, rule: c.author.rule }]
        : [],
    );
  });

  /** A person did something here. */
  get touched(): boolean {
    return this.typed.length + this.woken.length + this.handedBack.length > 0;
  }

  /** Something would be saved: what was typed, or what rules make of a stored record by now. */
  get dirty(): boolean {
    return this.touched || (this.stored !== null && this.settlement.changes.length > 0);
  }

  value(key: string): Stored {
    return this.settlement.data[key] ?? null;
  }

  before(key: string): Stored {
    return this.stored?.data[key] ?? null;
  }

  /** What stands before anything is typed: stored, or given to a blank form. */
  starting(key: string): Stored {
    return this.stored ? this.before(key) : (this.begun[key] ?? null);
  }

  typedValue(key: string): Typed | undefined {
    return this.typed.find((t) => t.key === key);
  }

  /** The typed value that a rule put another one in the place of, or took back. */
  overruled(field: Field): Stored | undefined {
    return overruled(this.typedValue(field.key), field, this.value(field.key));
  }

  /** The rule that gave a field its value in this sitting, with what it read: the last one that did. */
  written(key: string): TraceEntry | undefined {
    const { author } = this.settlement.changes.find((c) => c.field === key) ?? {};
    const by = author?.by === 'rule' ? author.rule : undefined;
    return this.settlement.trace.findLast(
      (t) => ['ran', 'stops'].includes(t.verdict) && (!by || t.rule === by) && t.outcomes.some((o) => o.field === key),
    );
  }

  /** The standing rule that would give a field the value that it has, with what it reads now. */
  standing(key: string): TraceEntry | undefined {
    return this.explained.trace.findLast((t) =>
      t.outcomes.some((o) => o.field === key && sameStored(o.to, this.value(key))),
    );
  }

  /** What was settled to explain: the trace that `standing` and `verdicts` come from. */
  get explanation(): Settlement {
    return this.explained;
  }

  /** What each rule that writes a field would make of it now, with why it does not where it does not. */
  verdicts(key: string): readonly TraceEntry[] {
    const rules = new Set(this.writersOf(key).map((r) => r.rule.key));
    return this.explained.trace.filter((t) => rules.has(t.rule));
  }

  private writersOf(key: string): TypeProgram['rules'] {
    const slot = this.typeProgram.slotOf.get(key);
    return this.typeProgram.rules.filter(
      (r) => slot !== undefined && r.compiles && r.rule.on && r.writes.includes(slot),
    );
  }

  /** What the rules did in a write of before. @throws where the server cannot be reached. */
  async traceOf(write: number): Promise<KeptTrace> {
    return this.server.trace(this.recordType.key, this.stored!.id, write);
  }

  commit(key: string, value: unknown): void {
    const field = this.recordType.fields.find((f) => f.key === key);
    if (!field) return;
    this.typed = typeInto(this.typed, field, value, this.starting(key));
    this.handedBack = this.handedBack.filter((k) => k !== key);
    // Where the server cannot be reached the answers of before stand; saving compares anyway.
    void this.refresh().catch(() => undefined);
  }

  /** Whether a person set the stored value by hand, so that rules leave it alone. */
  isHeld(key: string): boolean {
    return this.stored?.held.includes(key) === true && !this.handedBack.includes(key);
  }

  /** The rule that would write the field if nobody held it. */
  winnerOver(key: string): { readonly name: string; readonly winner: Winner } | undefined {
    return this.writersOf(key)[0]?.rule;
  }

  /** What was set by hand is the rules' again. */
  handBack(key: string): void {
    this.typed = this.typed.filter((t) => t.key !== key);
    this.handedBack = [...this.handedBack.filter((k) => k !== key), key];
  }

  take(suggestion: Suggestion): void {
    this.woken = [...this.woken, suggestion.rule];
  }

  /** Counts the times that what is held came to be shown anew: put back, saved, somebody else's taken. */
  sitting = $state(0);

  putBack(): void {
    this.sitting++;
    this.typed = [];
    this.woken = [];
    this.handedBack = [];
  }

  /** What a save sends, but for what is in sight. */
  private readonly request: Omit<SaveRequest, 'seen'> = $derived.by(() => {
    const given = { ...this.begun, ...this.formOnly };
    const typed = this.typed.filter((t) => !(t.key in this.formOnly));
    return {
      ...(this.stored ? { id: this.stored.id, version: this.stored.version } : {}),
      form: this.formName,
      sent: { ...given, ...Object.fromEntries(typed.map((t) => [t.key, t.value])) },
      typed: typed.map((t) => t.key),
      woken: this.woken,
      handBack: this.handedBack,
    };
  });

  /** Keys of the fields of this type that rules read from other records. */
  readElsewhere: readonly string[] = [];
  private looked = $state.raw<{ readonly request: string; readonly found: Elsewhere }>();

  /** Whether saving what stands here may reach other records. */
  readonly reaches: boolean = $derived.by(() => {
    const { verdict, writes, changes } = this.saving;
    if (!this.dirty || verdict !== 'saved') return false;
    return writes.length > 0 || changes.some((c) => this.readElsewhere.includes(c.field));
  });

  /** What saving would do to other records; absent until the server has said it of what stands here. */
  readonly elsewhere: Elsewhere | undefined = $derived.by(() =>
    this.reaches && this.looked?.request === JSON.stringify(this.request) ? this.looked.found : undefined,
  );

  /** Asks what saving would do to other records. @throws where the server cannot be reached. */
  async lookElsewhere(): Promise<void> {
    if (!this.reaches || this.elsewhere) return;
    const asked = JSON.stringify(this.request);
    const found = await this.server.preview(this.recordType.key, this.request);
    this.looked = { request: asked, found };
  }

  /** Sends what was typed and what is in sight. */
  async save(confirmed?: Confirmed): Promise<SaveAnswer> {
    for (let pass = 0; pass < mostPasses && this.saving.asks.length > 0; pass++) await this.answerAsks();
    const { settlement, effects } = confirmed ?? { settlement: this.saving, effects: this.elsewhere?.effects };
    const seen = { fields: this.shown, ...seenOf(settlement, this.shown, effects) };
    const said = await this.server.save(this.recordType.key, { ...this.request, seen });
    if (said.outcome === 'saved') this.accept(said);
    return said;
  }

  private accept({ id, version, settlement }: Extract<SaveAnswer, { outcome: 'saved' }>): void {
    this.stored = { id, version, data: settlement.data, held: settlement.held };
    this.world = new AnsweredSource();
    this.asked.clear();
    this.putBack();
    this.now = nowIn(this.rulebook.zone);
    this.answered++;
  }

  /** Goes on from a record that someone else saved meanwhile; what was typed stays. */
  goOnFrom(record: Stores): void {
    this.stored = record;
    this.sitting++;
  }
}
