/**
 * A record on a form: what is stored, and in order what was typed. The whole is settled again from these after every
 * commit; what rules wrote in the last round is never an input, so what followed from a value goes when it is taken back.
 */
import type { TraceEntry } from '@rigid-rule/core/compile';
import type { Field, RecordData, RecordType, Stored, Winner } from '@rigid-rule/core/document';
import { sameStored } from '@rigid-rule/core/language';
import { untilAnswered, type RecordQuery } from '@rigid-rule/core/records';
import { overruled, seenOf, type Effect, type Typed } from '@rigid-rule/core/related';
import type { Settlement } from '@rigid-rule/core/settle';
import type { Titles } from '$lib/features/fields';
import { nowIn } from '$lib/now.ts';
import { uniqueId } from '$lib/unique-id.ts';
import {
  actsSince,
  isTouched,
  noActs,
  saveRequestOf,
  withHandedBack,
  withValue,
  withWoken,
  type Acts,
} from './acts.ts';
import type { FormEngine } from './form-engine.ts';
import { LoadedRules } from './loaded-rules.ts';
import {
  begunBy,
  withTyped,
  writtenIn,
  type FormIdentity,
  type FormInput,
  type FormOutlook,
  type FormSettled,
  type FormStart,
  type RuleOnForm,
} from './form-state.ts';
import { joined, namesOf, unnamedLinks } from './link-names.ts';
import { SaveSender, type SentSave } from './save-sender.ts';
import { openQuestions, Questions, type OpenQuestions } from './questions.ts';
import {
  httpServer,
  type Elsewhere,
  type KeptTrace,
  type RecordServer,
  type SaveAnswer,
  type SaveContent,
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

/** Milliseconds without a key after which it is worked out what follows from what stands on the form. */
const quiet = 150;
/** Milliseconds without a key after which the server is asked what saving would do to other records. */
const quietBeforeLooking = 200;
const nothingOpen: OpenQuestions = { asks: [], rows: [] };

export interface FormParts {
  /** All of the release: what is linked is named by them. */
  readonly recordTypes: readonly RecordType[];
  /** The organisation's time zone. */
  readonly zone: string;
  /** Where the rules are had from. */
  readonly rulesAddress: string;
  readonly identity: FormIdentity;
  readonly release: number | null;
  readonly stored: Stores | null;
  readonly start: FormStart;
  /** Keys of the fields of this type that rules read from other records. */
  readonly readElsewhere?: readonly string[];
  readonly server?: RecordServer;
  /** At hand from the beginning; otherwise it is loaded once somebody is about to type. */
  readonly engine?: FormEngine;
  /** Keys of the tables whose rows that engine does not have. */
  readonly rowsElsewhere?: readonly string[];
  /** Does some work once nothing happens for a while. */
  readonly afterQuiet?: (work: () => void) => void;
}

export class RecordForm {
  readonly recordType: RecordType;
  readonly release: number | null;
  private readonly identity: FormIdentity;
  private readonly server: RecordServer;
  private readonly recordTypes: readonly RecordType[];
  private readonly zone: string;
  readonly rules: LoadedRules;
  private readonly start: FormStart;
  private readonly readElsewhere: readonly string[];
  private readonly afterQuiet: (work: () => void) => void;
  private engine = $state.raw<FormEngine>();
  private rulesAway = $state(false);
  private loading: Promise<void> | undefined;
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** ISO 8601 instant of the last act on the form. */
  private now = $state('');
  stored = $state.raw<Stores | null>(null);
  private acts: Acts = $state.raw(noActs);
  private readonly questions: Questions;
  /** Counts the answers that came: what was settled without them is settled again. */
  private answered = $state(0);
  private asking: Promise<void> | undefined;
  private closed = false;
  private saves = 0;
  private readonly sender: SaveSender;

  /** Nobody looks at it any more, and nothing is being saved. */
  private get isLeft(): boolean {
    return this.closed && this.saves === 0;
  }

  constructor({
    recordTypes,
    zone,
    rulesAddress,
    identity,
    release,
    stored,
    start,
    readElsewhere = [],
    server = httpServer,
    engine,
    rowsElsewhere = [],
    afterQuiet,
  }: FormParts) {
    this.recordTypes = recordTypes;
    this.zone = zone;
    this.rules = new LoadedRules(() => server.rules(rulesAddress));
    this.identity = identity;
    this.recordType = recordTypes.find((t) => t.key === identity.recordType)!;
    this.release = release;
    this.stored = stored;
    this.start = start;
    this.readElsewhere = readElsewhere;
    this.server = server;
    this.sender = new SaveSender((request) => server.save(identity.recordType, request));
    this.questions = new Questions(server, release);
    this.engine = engine;
    this.questions.begin(rowsElsewhere);
    this.afterQuiet = afterQuiet ?? ((work) => this.debounced(work));
    this.now = nowIn(zone);
  }

  /** Nobody looks at the form any more: what is still on its way changes nothing here, but a save goes on. */
  close(): void {
    clearTimeout(this.timer);
    this.closed = true;
  }

  private debounced(work: () => void): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(work, quiet);
  }

  /** Whether the rules are here: until they are, nothing has been worked out of what was typed. */
  get rulesAre(): 'here' | 'coming' | 'away' {
    return this.engine ? 'here' : this.rulesAway ? 'away' : 'coming';
  }

  /** Loads the rules where they are not here yet: somebody is about to type. @throws where they cannot be had. */
  ready(): Promise<void> {
    if (this.engine) return Promise.resolve();
    this.loading ??= Promise.all([import('./load-engine.ts'), this.rules.all()])
      .then(async ([{ formEngine }, { rulebook, rowsElsewhere }]) => {
        const engine = await formEngine(rulebook, this.identity);
        this.questions.begin(rowsElsewhere);
        this.engine = engine;
        // A form may have stood open for long by now: what the rules say they say of this moment.
        this.now = nowIn(this.zone);
        this.rest();
      })
      .catch((e: unknown) => {
        this.rulesAway = true;
        throw e;
      })
      .finally(() => (this.loading = undefined));
    return this.loading;
  }

  private readonly input: FormInput = $derived.by(() => ({
    stored: this.stored,
    ...this.acts,
    now: this.now,
  }));

  private readonly settled: FormSettled = $derived.by(() => {
    void this.answered;
    if (this.engine) return this.engine.settle(this.input, this.questions.source);
    return { ...this.start, settlement: withTyped(this.start.settlement, this.recordType, this.typed) };
  });

  /** What stood on the form when nothing happened for a while; what follows from it is worked out of that. */
  private rested = $state.raw<{ readonly input: FormInput; readonly settled: FormSettled }>();

  private readonly outlook: FormOutlook | undefined = $derived.by(() =>
    this.engine && this.rested
      ? this.engine.outlook(this.rested.input, this.rested.settled, this.questions.source)
      : undefined,
  );

  /** What follows is worked out of what stands here now. */
  rest(): void {
    if (this.isLeft) return;
    const { engine, input, settled, rested } = this;
    if (engine && (rested?.input !== input || rested.settled !== settled)) this.rested = { input, settled };
  }

  private act(acts: Acts): void {
    this.acts = acts;
    this.changed();
  }

  /** Something on the form is another. */
  private changed(): void {
    // Where the rules cannot be had now they are asked for with the next act.
    void this.ready().catch(() => undefined);
    this.afterQuiet(() => this.rest());
  }

  /** What a blank form opens with: given by rules, to be changed or cleared like anything else. */
  private readonly begun: RecordData = $derived(begunBy(this.settled.opening));

  private readonly settlements: readonly Settlement[] = $derived.by(() => {
    if (!this.engine) return [];
    const { opening, settlement } = this.settled;
    return [opening, settlement, this.outlook?.saving, this.outlook?.explained].filter((s) => s !== undefined);
  });

  private readonly open: OpenQuestions = $derived(openQuestions(this.settlements));

  /** What rules ask of other records and nobody has answered yet. */
  readonly asks: readonly RecordQuery[] = $derived(this.open.asks);

  /** Some rule waits for an answer. */
  readonly waits: boolean = $derived(this.open.asks.length + this.open.rows.length > 0);

  /**
   * Has the open questions answered, and those that the answers or what is typed meanwhile lead to; a rule that waits acts
   * once they are. @throws where the server cannot be reached.
   */
  async answerAsks(): Promise<void> {
    await this.ready();
    while (this.asking) await this.asking;
    if (this.isLeft) return;
    this.asking = this.untilNothingIsOpen().finally(() => (this.asking = undefined));
    await this.asking;
  }

  private async untilNothingIsOpen(): Promise<void> {
    let of: FormInput;
    // Questions without end are given up, but not what an act of meanwhile asks.
    do {
      this.rest();
      of = this.input;
      await untilAnswered(
        () => (this.isLeft ? nothingOpen : this.open),
        ({ asks, rows }) => asks.length + rows.length > 0,
        (open) => this.answer(open),
      );
    } while (!this.isLeft && this.waits && this.input !== of);
  }

  private async answer(open: OpenQuestions): Promise<void> {
    await this.questions.answer(open);
    this.answersCame();
  }

  /** In an effect: has questions answered as they open. `said`: whether the server was reached. */
  followAsks(said: (reached: boolean) => void): void {
    // Where nobody answered, or without end, the next act asks again.
    void this.input;
    if (!this.waits) return;
    this.answerAsks().then(
      () => said(true),
      () => said(false),
    );
  }

  /** Titles of records that rules linked to and the page did not bring along, by type and id. */
  learned = $state.raw<Titles>({});

  /** Asks what linked records are called; `known` are those that need no asking. */
  async nameLinks(known: Titles): Promise<void> {
    const suggested = (field: string) => this.suggestions.find((s) => s.field === field)?.value;
    const idsIn = (field: string) => [this.value(field), suggested(field)];
    const links = unnamedLinks(this.recordType, idsIn, known, this.learned);
    if (links.length === 0) return;
    this.learned = joined(this.learned, await namesOf(links, this.recordTypes, this.server, this.release));
  }

  private answersCame(): void {
    this.answered++;
    this.rest();
  }

  /** Clock and linked records as they are now: with each act, and while nothing happens every so often. */
  async refresh(): Promise<void> {
    if (!this.engine) return;
    this.now = nowIn(this.zone);
    this.changed();
    if (await this.questions.askAgain()) this.answersCame();
  }

  /** What stands on the form. */
  readonly settlement: Settlement = $derived(this.settled.settlement);

  /** What saving would give, by the release that this form works under; what stands there while that is not known. */
  readonly saving: Settlement = $derived(this.outlook?.saving ?? this.settlement);

  private readonly formOnly: RecordData = $derived(this.outlook?.formOnly ?? {});

  /** Keys of the fields that stand on this form. */
  private readonly shown: readonly string[] = $derived.by(() => {
    const form = this.recordType.forms.find((f) => f.key === this.identity.form);
    return form?.fields ?? this.recordType.fields.map((f) => f.key);
  });

  /** Why each worked-out value is what it is, also where nothing changed in this sitting. */
  private readonly explained: Settlement = $derived.by(() => this.outlook?.explained ?? this.start.explained);

  /** Where the live rules say something else than is stored. */
  readonly suggestions: readonly Suggestion[] = $derived.by(() => {
    if (!this.stored) return [];
    const { data } = this.rested?.settled.settlement ?? this.settlement;
    return this.explained.changes.flatMap((c) =>
      c.author.by === 'rule' && !sameStored(c.to, data[c.field] ?? null)
        ? [{ field: c.field, value: c.to, rule: c.author.rule }]
        : [],
    );
  });

  /** A person did something here. */
  get touched(): boolean {
    return isTouched(this.acts);
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

  get typed(): readonly Typed[] {
    return this.acts.typed;
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
    return writtenIn(this.settlement, key);
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
    const rules = new Set(this.writersOf(key).map((r) => r.key));
    return this.explained.trace.filter((t) => rules.has(t.rule));
  }

  private writersOf(key: string): readonly RuleOnForm[] {
    return this.start.rules.filter((r) => r.writes.includes(key));
  }

  /** What the rules did in a write of before. @throws where the server cannot be reached. */
  async traceOf(write: number): Promise<KeptTrace> {
    return this.server.trace(this.recordType.key, this.stored!.id, write);
  }

  /** What was typed on another form of the same record goes on here. */
  takeUp(typed: readonly Typed[]): void {
    if (typed.length === 0) return;
    this.act({ ...this.acts, typed });
  }

  commit(key: string, value: unknown): void {
    const field = this.recordType.fields.find((f) => f.key === key);
    if (!field) return;
    this.act(withValue(this.acts, field, value, this.starting(key)));
    // Where the server cannot be reached the answers of before stand; saving compares anyway.
    void this.refresh().catch(() => undefined);
  }

  /** Whether a person set the stored value by hand, so that rules leave it alone. */
  isHeld(key: string): boolean {
    return this.stored?.held.includes(key) === true && !this.acts.handedBack.includes(key);
  }

  /** The rule that would write the field if nobody held it. */
  winnerOver(key: string): { readonly name: string; readonly winner: Winner } | undefined {
    return this.writersOf(key)[0];
  }

  /** What was set by hand is the rules' again. */
  handBack(key: string): void {
    this.act(withHandedBack(this.acts, key));
  }

  take(suggestion: Suggestion): void {
    this.act(withWoken(this.acts, suggestion.rule));
  }

  /** Counts the times that what is held came to be shown anew: put back, saved, somebody else's taken. */
  sitting = $state(0);

  putBack(): void {
    this.sitting++;
    this.act(noActs);
  }

  /** What a save sends, but for what is in sight. */
  private readonly request: SaveContent = $derived.by(() =>
    saveRequestOf(this.acts, this.identity.form, this.stored, this.begun, this.formOnly),
  );

  private looked = $state.raw<{ readonly request: string; readonly found: Elsewhere }>();

  /** Whether saving what stands here may reach other records. */
  readonly reaches: boolean = $derived.by(() => {
    const { verdict, writes, changes } = this.saving;
    if (!this.outlook || !this.dirty || verdict !== 'saved') return false;
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

  /** In an effect: what stands here is asked about once nothing is typed for a while, also where it was asked before. */
  followElsewhere(): (() => void) | undefined {
    void this.request;
    if (!this.reaches || this.elsewhere) return undefined;
    const timer = setTimeout(() => void this.lookElsewhere().catch(() => undefined), quietBeforeLooking);
    return () => clearTimeout(timer);
  }

  /** Sends what was typed and what is in sight. */
  async save(confirmed?: Confirmed): Promise<SaveAnswer> {
    this.saves++;
    try {
      return await this.sendAll(confirmed);
    } finally {
      this.saves--;
    }
  }

  private async sendAll(confirmed?: Confirmed): Promise<SaveAnswer> {
    await this.ready();
    // What got no answer is sent again just as it was: were it saved already, it is not done again.
    const { unanswered } = this.sender;
    const before = unanswered && (await this.send(unanswered));
    if (before?.outcome === 'saved' && !this.touched) return before;
    await this.answerAsks();
    // What is sent and what was in sight are of the same moment, whatever was typed while answers came.
    this.rest();
    const { settlement, effects } = confirmed ?? { settlement: this.saving, effects: this.elsewhere?.effects };
    const seen = { fields: this.shown, ...seenOf(settlement, this.shown, effects) };
    return this.send({ request: { ...this.request, seen, key: uniqueId() }, acts: this.acts });
  }

  /** What was done since it was sent goes on from what was saved. */
  private async send(sent: SentSave): Promise<SaveAnswer> {
    const said = await this.sender.send(sent);
    if (said.outcome !== 'saved') return said;
    const { typed, woken, handedBack } = actsSince(this.acts, sent.acts);
    // What was typed then and is typed no more was put back to what stood there.
    const putBack = sent.acts.typed.flatMap(({ key }) =>
      this.typedValue(key) ? [] : [{ key, value: this.starting(key) }],
    );
    this.accept(said);
    if (woken.length + handedBack.length > 0) this.act({ ...noActs, woken, handedBack });
    for (const { key, value } of [...putBack, ...typed]) this.commit(key, value);
    return said;
  }

  private accept({ id, version, settlement }: Extract<SaveAnswer, { outcome: 'saved' }>): void {
    this.stored = { id, version, data: settlement.data, held: settlement.held };
    this.questions.forget();
    this.putBack();
    this.now = nowIn(this.zone);
    this.answersCame();
  }

  /** Goes on from a record that someone else saved meanwhile; what was typed stays. */
  goOnFrom(record: Stores): void {
    this.stored = record;
    this.sitting++;
    this.changed();
  }
}
