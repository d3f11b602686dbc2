/**
 * A record on a form: what is stored, and in order what was typed. The whole is settled again from these after every
 * commit; what rules wrote in the last round is never an input, so what followed from a value goes when it is taken back.
 */
import { browserHost } from '$lib/host.svelte.ts';
import {
  AnsweredWorld,
  compileProgram,
  formKey,
  sameStored,
  settle,
  type Moment,
  type Program,
  type RecordData,
  type RecordType,
  type Rulebook,
  type Settlement,
  type Stored,
  type TraceEntry,
  type TypeProgram,
  type Ask,
  type FoundRecord,
  type User,
} from '@rigid-rule/core';
import type { Titles } from '$lib/features/fields';
import { nowIn } from '$lib/now.ts';

export interface Stores {
  readonly id: number;
  readonly data: RecordData;
  readonly held: readonly string[];
  readonly version: number;
}

export type SaveAnswer =
  | { readonly outcome: 'saved'; readonly id: number; readonly version: number; readonly settlement: Settlement }
  | { readonly outcome: 'stopped'; readonly settlement: Settlement }
  | { readonly outcome: 'differs'; readonly release: number | null; readonly settlement: Settlement }
  | { readonly outcome: 'changed meanwhile'; readonly record: Stores }
  | { readonly outcome: 'no record' | 'no type' };

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
  private readonly rulebook: Rulebook;
  private readonly program: Program = $derived.by(() => compileProgram(this.rulebook, browserHost.current));
  private readonly typeProgram: TypeProgram = $derived.by(() => this.program.types.get(this.typeKey)!);
  private readonly typeKey: string;
  /** ISO 8601 instant at which the form was opened. */
  private readonly now: string;
  stored = $state.raw<Stores | null>(null);
  typed = $state.raw<readonly { readonly key: string; readonly value: unknown }[]>([]);
  private readonly user: User | undefined;
  /** What is known of other records: asked of the server as rules want it. */
  private readonly world = new AnsweredWorld();
  /** Counts the answers that came: what was settled without them is settled again. */
  private answered = $state(0);
  private asking: Promise<void> | undefined;
  /** Standing rules whose answer the person took. */
  woken = $state.raw<readonly string[]>([]);

  constructor(
    rulebook: Rulebook,
    typeKey: string,
    release: number | null,
    formName: string,
    stored: Stores | null,
    user?: User,
  ) {
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

  private settleAt(moment: Moment, extra: Readonly<Record<string, unknown>> = {}, woken = this.woken): Settlement {
    void this.answered;
    const write = {
      recordType: this.recordType.key,
      ...(this.stored ? { id: String(this.stored.id) } : {}),
      ...(this.user ? { user: this.user } : {}),
      before: this.stored,
      sent: { ...extra, ...Object.fromEntries(this.typed.map((t) => [t.key, t.value])) },
      typed: this.typed.map((t) => t.key),
      moment,
      entryPoint: formKey(this.formName),
      now: this.now,
      woken,
    };
    return settle(this.program, write, this.world);
  }

  /** What rules ask of other records and nobody has answered yet. */
  readonly asks: readonly Ask[] = $derived.by(() => {
    const all = [this.settlement, this.saving, this.explained].flatMap((s) => s.asks);
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

  private readonly unnamed: readonly Ask[] = $derived.by(() =>
    this.recordType.fields.flatMap((f): Ask[] => {
      const { recordType } = f;
      if (f.type !== 'lookup' || !recordType) return [];
      const suggested = this.suggestions.find((s) => s.field === f.key)?.value;
      return [this.value(f.key), suggested].flatMap((id): Ask[] =>
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
    const found = await this.ask(asks);
    const learned = { ...this.learned };
    asks.forEach((ask, i) => {
      if (ask.kind !== 'record') return;
      const type = this.rulebook.recordTypes.find((t) => t.key === ask.recordType);
      const data = found[i]?.[0]?.data ?? {};
      const title = type?.title
        .map((k) => data[k])
        .filter(Boolean)
        .join(' ');
      learned[ask.recordType] = { ...learned[ask.recordType], [ask.id]: title || ask.id };
    });
    this.learned = learned;
  }

  private async fetchAnswers(asks: readonly Ask[]): Promise<void> {
    const answers = await this.ask(asks);
    asks.forEach((ask, i) => this.world.put(ask, answers[i] ?? []));
    this.answered++;
  }

  private async ask(asks: readonly Ask[]): Promise<readonly (readonly FoundRecord[])[]> {
    const answer = await fetch('/api/related', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ asks }),
    });
    if (!answer.ok) throw new Error('What the rules ask of other records could not be read.');
    return ((await answer.json()) as { answers: readonly (readonly FoundRecord[])[] }).answers;
  }

  /** What stands on the form. */
  readonly settlement: Settlement = $derived.by(() => this.settleAt('editing'));

  private readonly savingMoment = $derived<Moment>(this.stored ? 'updating' : 'creating');

  /** Results of rules that run only on forms: sent when saving, as sent and not as typed. */
  private readonly formOnly = $derived.by(() => {
    const onlyForms = new Set(
      this.typeProgram.rules.filter((r) => !r.rule.moments.includes(this.savingMoment)).map((r) => r.rule.key),
    );
    return Object.fromEntries(
      this.settlement.changes.flatMap((c) =>
        c.author.by === 'rule' && onlyForms.has(c.author.rule) ? [[c.field, c.to]] : [],
      ),
    );
  });

  /** What saving would give, by the release that this form works under. */
  readonly saving: Settlement = $derived.by(() => this.settleAt(this.savingMoment, this.formOnly));

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

  get dirty(): boolean {
    return this.settlement.changes.length > 0 || this.typed.length > 0;
  }

  value(key: string): Stored {
    return this.settlement.data[key] ?? null;
  }

  before(key: string): Stored {
    return this.stored?.data[key] ?? null;
  }

  /** What its input shows: what was typed even where it is refused. */
  typedValue(key: string): { readonly value: unknown } | undefined {
    return this.typed.find((t) => t.key === key);
  }

  /** The rule that gives a field its value, with what it read. */
  explanation(key: string): TraceEntry | undefined {
    const fresh = this.settlement.trace.find(
      (t) => ['ran', 'stops'].includes(t.verdict) && t.outcomes.some((o) => o.field === key),
    );
    return fresh ?? this.explained.trace.find((t) => t.outcomes.some((o) => o.field === key));
  }

  commit(key: string, value: unknown): void {
    const others = this.typed.filter((t) => t.key !== key);
    this.typed = sameStored(value as Stored, this.before(key)) ? others : [...others, { key, value }];
  }

  take(suggestion: Suggestion): void {
    this.woken = [...this.woken, suggestion.rule];
  }

  putBack(): void {
    this.typed = [];
    this.woken = [];
  }

  /** Sends what was typed. `confirmed`: the person has seen what the present release gives instead. */
  async save(confirmed: boolean): Promise<SaveAnswer> {
    for (let pass = 0; pass < mostPasses && this.saving.asks.length > 0; pass++) await this.answerAsks();
    const { data, verdict } = this.saving;
    const body = {
      ...(this.stored ? { id: this.stored.id, version: this.stored.version } : {}),
      form: this.formName,
      sent: { ...this.formOnly, ...Object.fromEntries(this.typed.map((t) => [t.key, t.value])) },
      typed: this.typed.map((t) => t.key),
      woken: this.woken,
      ...(confirmed ? {} : { seen: { release: this.release, data, verdict } }),
    };
    const answer = await fetch(`/api/records/${this.recordType.key}/save`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
    const said = (await answer.json()) as SaveAnswer | { message: string };
    if ('message' in said) throw new Error(said.message);
    if (said.outcome === 'saved') this.accept(said);
    return said;
  }

  private accept({ id, version, settlement }: Extract<SaveAnswer, { outcome: 'saved' }>): void {
    this.stored = { id, version, data: settlement.data, held: settlement.held };
    this.putBack();
  }

  /** Goes on from a record that someone else saved meanwhile; what was typed stays. */
  goOnFrom(record: Stores): void {
    this.stored = record;
  }
}
