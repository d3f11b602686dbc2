/** One sample record, changed by hand, and what the draft's rules make of it at once. Nothing of it is stored. */
import type { DraftUser } from '$lib/features/draft/context.ts';
import type { SampleRecord } from '$lib/features/samples/sample-server.ts';
import type { SampleSet } from '$lib/features/samples/samples.svelte.ts';
import { nowIn } from '$lib/now.ts';
import { userLinkOf } from '$lib/user-link.ts';
import { entryPointsOf, formKey, type Program } from '@rigid-rule/core/compile';
import type { Field, Moment, RecordData, RecordType, RuleTest, Stored } from '@rigid-rule/core/document';
import { childListsOf, linkedType } from '@rigid-rule/core/language';
import { OverlaySource, type FoundRecord, type Write } from '@rigid-rule/core/records';
import {
  integrityOf,
  overruled,
  settleAndPropagate,
  typeInto,
  type Transaction,
  type Typed,
} from '@rigid-rule/core/related';
import { testedId } from '@rigid-rule/core/rule-tests';
import type { Settlement } from '@rigid-rule/core/settle';
import { SvelteMap } from 'svelte/reactivity';
import { RecordingSource } from './recording-source.ts';

/** `existing`: the sample is stored. `as new`: its values are sent with a new record. `blank`: nothing is sent. */
export type Subject = 'existing' | 'as new' | 'blank';

export type Tried = Typed;

/** A record beside the one on the bench, changed for the try. */
export interface RelatedRecord {
  readonly recordType: string;
  readonly id: string;
  readonly data: RecordData;
}

interface BenchSources {
  readonly program: () => Program;
  readonly samples: Pick<SampleSet, 'total' | 'at' | 'first' | 'source'>;
  readonly users: readonly DraftUser[];
}

export class Bench {
  readonly typeKey: string;
  private readonly sources: BenchSources;
  private wanted = $state(0);
  subject = $state<Subject>('existing');
  entryPoint = $state<string>(formKey('full'));
  private chosenMoment = $state<Moment>();
  /** Email of who writes. */
  user = $state('');
  /** ISO 8601 instant that the try is made at. */
  clock = $state('');
  /** Key of the rule on the sheet: the one that an act *on request* asks for. */
  asked = $state<string>();
  /** Values changed by hand, in the order in which they were first changed; kept when the sample changes. */
  tried = $state.raw<readonly Tried[]>([]);
  /** Fields taken as set by a person before. */
  held = $state.raw<readonly string[]>([]);
  private readonly overridden = new SvelteMap<string, RelatedRecord>();
  /** What a conversion starts from: a sample, the first of its type where none is said, or what a kept test brings along. */
  private begunFrom = $state.raw<{ readonly recordType: string; readonly id?: string } | RelatedRecord>();
  /** A kept test that is tried in the place of a sample. */
  shown = $state.raw<RuleTest>();

  constructor(typeKey: string, sources: BenchSources) {
    this.typeKey = typeKey;
    this.sources = sources;
    this.clock = nowIn(sources.program().rulebook.zone);
  }

  get program(): Program {
    return this.sources.program();
  }

  /** Place in the set of samples, never beyond its end. */
  get index(): number {
    return Math.min(this.wanted, Math.max(0, (this.total ?? Infinity) - 1));
  }
  set index(place: number) {
    this.wanted = place;
  }

  private sampleAt(index: number): SampleRecord | undefined {
    return this.sources.samples.at(this.typeKey, index);
  }

  readonly recordType: RecordType = $derived.by(() => this.program.types.get(this.typeKey)!.recordType);
  /** Samples of the type; undefined while that is not known. */
  readonly total: number | undefined = $derived.by(() => this.sources.samples.total(this.typeKey));
  readonly sample: SampleRecord | undefined = $derived.by(() => this.sampleAt(this.index));
  readonly entries = $derived.by(() => entryPointsOf(this.recordType));
  readonly entry = $derived.by(() => this.entries.find((e) => e.key === this.entryPoint) ?? this.entries[0]!);
  readonly isNew = $derived(this.shown ? this.shown.before === null : this.subject !== 'existing' || !this.sample);
  readonly moments: readonly Moment[] = $derived.by(() => {
    const own = this.isNew ? ['opening', 'editing', 'creating'] : ['editing', 'updating', 'on request'];
    return own.filter((m) => m === 'on request' || (this.entry.moments as readonly string[]).includes(m)) as Moment[];
  });
  readonly moment: Moment = $derived.by(() => {
    if (this.chosenMoment && this.moments.includes(this.chosenMoment)) return this.chosenMoment;
    const usual = this.isNew ? 'creating' : 'updating';
    return this.moments.includes(usual) ? usual : (this.moments[0] ?? usual);
  });
  choose(moment: Moment): void {
    this.chosenMoment = moment;
  }

  /** The record that a conversion starts from; undefined while it is not at hand. */
  readonly origin: RelatedRecord | undefined = $derived.by(() => {
    const from = this.begunFrom;
    if (!from || 'data' in from) return from;
    const { recordType } = from;
    const id = from.id ?? this.sources.samples.first(recordType)[0]?.id;
    const found = this.sources.samples.source.answer({ kind: 'record', recordType, id: String(id ?? '') });
    return found?.[0] && { recordType, ...found[0] };
  });
  /** Undefined: the record is made from none. */
  beginFrom(from: { readonly recordType: string; readonly id?: string } | undefined): void {
    this.begunFrom = from;
  }

  /** What is stored of the record: that of the sample, or of the test that is shown. */
  private readonly data: RecordData | undefined = $derived(this.shown ? this.shown.before?.data : this.sample?.data);
  readonly id: string | undefined = $derived(
    this.isNew ? undefined : this.shown ? testedId : this.sample && String(this.sample.id),
  );
  readonly before = $derived.by<Write['before']>(() =>
    this.isNew || !this.data ? null : { data: this.data, held: this.held },
  );
  /** What a new record brings along. */
  private readonly brought: RecordData = $derived(
    !this.shown && this.subject === 'as new' && this.sample ? this.sample.data : ({} as RecordData),
  );

  readonly write: Write = $derived.by(() => {
    const user = this.sources.users.find((u) => u.email === this.user);
    return {
      recordType: this.typeKey,
      ...(this.id === undefined ? {} : { id: this.id }),
      before: this.before,
      sent: { ...this.brought, ...Object.fromEntries(this.tried.map((t) => [t.key, t.value])) },
      typed: this.entry.byHand ? this.tried.map((t) => t.key) : [],
      moment: this.moment,
      entryPoint: this.entry.key,
      now: this.clock,
      ...(user ? { user: { name: user.name, email: user.email, role: user.role, ...this.contactOf(user.email) } } : {}),
      ...(this.moment === 'on request' && this.asked ? { woken: [this.asked] } : {}),
      ...(this.origin ? { origin: this.origin } : {}),
    };
  });

  /** The sample record that stands for a user. */
  private contactOf(email: string): { readonly contact?: string } {
    const link = userLinkOf(this.program.rulebook);
    if (!link) return {};
    const [recordType, field] = [link.recordType.key, link.field.key];
    const found = this.world.answer({ kind: 'match', recordType, field, mode: 'folded', value: email });
    return found?.[0] ? { contact: found[0].id } : {};
  }

  /** Other records are those of the sample sets, some of them changed for the try; what is not there does not exist. */
  private readonly world = $derived.by(() => {
    const world = new OverlaySource(this.sources.samples.source);
    for (const { recordType, id, data } of this.overridden.values()) world.write(recordType, id, data);
    return world;
  });

  /** As the server would settle it: links, users and unique values by the samples. */
  readonly transaction: Transaction = $derived.by(() => {
    const settled = settleAndPropagate(this.program, this.write, this.world);
    const { settlement } = settled;
    if (settlement.verdict !== 'saved') return settled;
    const emails = new Set(this.sources.users.map((u) => u.email.toLowerCase()));
    const { messages } = integrityOf(
      this.recordType,
      this.write.id ?? '',
      settlement.changes,
      this.program.rulebook.recordTypes,
      { answer: (ask) => this.world.answer(ask), isUser: (email) => emails.has(email.toLowerCase()) },
    );
    if (messages.length === 0) return settled;
    return {
      ...settled,
      settlement: { ...settlement, verdict: 'stopped', messages: [...settlement.messages, ...messages] },
    };
  });
  readonly settlement: Settlement = $derived.by(() => this.transaction.settlement);

  stored(key: string): Stored {
    return this.before?.data[key] ?? null;
  }

  /** What stands before anything is tried: stored, or brought along. */
  starting(key: string): Stored {
    return this.before?.data[key] ?? this.brought[key] ?? null;
  }

  settled(key: string): Stored {
    return this.settlement.data[key] ?? null;
  }

  triedValue(key: string): Tried | undefined {
    return this.tried.find((t) => t.key === key);
  }

  override(key: string, value: unknown): void {
    const field = this.recordType.fields.find((f) => f.key === key);
    if (field) this.tried = typeInto(this.tried, field, value, this.starting(key));
  }

  /** The tried value that a rule put another one in the place of, or took back. */
  overruled(field: Field): Stored | undefined {
    return overruled(this.triedValue(field.key), field, this.settled(field.key));
  }

  /** Tries a kept test in the place of the sample; the try can be changed, and is taken back as any other. */
  show(test: RuleTest): void {
    this.clear();
    this.shown = test;
    this.entryPoint = test.entryPoint;
    this.chosenMoment = test.moment;
    this.clock = test.now;
    this.user = test.user?.email ?? '';
    this.held = test.before?.held ?? [];
    const typed = test.typed ?? [];
    const order = [...typed, ...Object.keys(test.sent).filter((k) => !typed.includes(k))];
    this.tried = order.flatMap((key) => (key in test.sent ? [{ key, value: test.sent[key] }] : []));
    for (const { key, recordType, data } of test.related ?? [])
      this.overridden.set(`${recordType}\0${key}`, { recordType, id: key, data });
    if (test.origin) this.begunFrom = { recordType: test.origin.recordType, id: '', data: test.origin.data };
  }

  step(by: 1 | -1): void {
    if (this.shown) this.clear();
    const { total } = this;
    if (total) this.index = (this.index + by + total) % total;
  }

  /** Reads what the next sample reads, so that it is at hand by the time that somebody goes on to it. */
  lookAhead(): void {
    const next = this.total && !this.isTouched ? this.sampleAt((this.index + 1) % this.total) : undefined;
    if (!next || this.isNew) return;
    const before = { data: next.data, held: this.held };
    settleAndPropagate(this.program, { ...this.write, id: String(next.id), before }, this.world);
    const source = this.world;
    for (const field of this.recordType.fields) {
      const [recordType, id] = [linkedType(field), next.data[field.key]];
      if (recordType !== undefined && typeof id === 'string') source.answer({ kind: 'record', recordType, id });
    }
    for (const { recordType, field } of childListsOf(this.typeKey, this.program.rulebook))
      source.answer({ kind: 'children', recordType, field, id: String(next.id) });
  }

  /** A record beside this one as the try sees it; undefined where there is none. */
  relatedRecord(recordType: string, id: string): RecordData | undefined {
    return this.world.answer({ kind: 'record', recordType, id })?.[0]?.data;
  }

  /** Undefined while it is not known. */
  childrenOf(recordType: string, field: string): readonly FoundRecord[] | undefined {
    if (this.id === undefined) return [];
    return this.world.answer({ kind: 'children', recordType, field, id: this.id });
  }

  isOverridden(recordType: string, id: string): boolean {
    return this.overridden.has(`${recordType}\0${id}`);
  }

  overrideRelated(recordType: string, id: string, key: string, value: Stored): void {
    const data = { ...this.relatedRecord(recordType, id), [key]: value };
    this.overridden.set(`${recordType}\0${id}`, { recordType, id, data });
  }

  get isTouched(): boolean {
    return this.shown !== undefined || this.tried.length > 0 || this.overridden.size > 0 || this.held.length > 0;
  }

  clear(): void {
    this.shown = undefined;
    this.tried = [];
    this.held = [];
    this.overridden.clear();
  }

  /** The write once more, with all that it reads of other records noted. */
  readAlong(): { readonly settlement: Settlement; readonly read: readonly RelatedRecord[] } {
    const world = new RecordingSource(this.world);
    const { settlement } = settleAndPropagate(this.program, this.write, world);
    return { settlement, read: world.read };
  }
}
