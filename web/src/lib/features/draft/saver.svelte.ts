/**
 * Sends edits of the draft to the server, all that wait in one go; what could not be sent, was refused, or clashes is
 * kept in the page and in local storage until it is settled. Whether an edit came to the server is not known before its
 * answer is there: until then it is sent again just as it was, by its id, and what follows waits behind it. Knows
 * versions and operations, nothing of what they mean.
 */
import { ask } from '$lib/network.ts';
import { partId, sameJson, type Operation, type PartRef } from '@rigid-rule/core/document';
import { SvelteMap } from 'svelte/reactivity';
import { ServerVersions } from './server-versions.ts';
import { byPart, joinedEdits, keepNothing, type KeptEdit, type KeptEdits } from './kept-edits.ts';
import type { EditsClash, SavedEdits, SentEdit, SentEdits, VersionedPart } from '$lib/draft-protocol.ts';
import { uniqueId } from '$lib/unique-id.ts';
import { ownWriting } from '$lib/organisation.svelte.ts';

/** Someone else changed the part meanwhile: theirs is shown beside ours, and neither is lost. */
export interface Clash {
  readonly ref: PartRef;
  /** Absent where they took the part away. */
  readonly theirs?: VersionedPart;
  readonly by: string | null;
}

export type SaveState = 'saved' | 'saving' | 'kept here' | 'refused' | 'clash';

interface Pending {
  readonly id: string;
  readonly ref: PartRef;
  readonly operations: readonly Operation[];
  readonly position?: number;
  /** Why the server would not take it; it waits until the part is changed again, or it is tried again by hand. */
  readonly refused?: string;
}

/** An edit as it was sent, and may have been taken. */
interface Sent extends Pending {
  readonly version: number;
  /** The part as the edit makes it; absent where it takes it away. */
  readonly body?: unknown;
}

const unsent = ({ version: _, body: __, ...edit }: Sent): Pending => edit;

/** @throws where the server cannot be reached. */
export type SendEdits = (body: string) => Promise<Response>;

export interface SaverPorts {
  readonly send?: SendEdits;
  readonly kept?: KeptEdits;
  /** Names this page, so that it does not hear of its own edits. */
  readonly page?: string;
  /** Called for each part of which nothing is on its way any more. */
  readonly settled?: (ref: PartRef) => void;
}

const saveDelay = 350;
/** Sooner than the sending: what is on its way is kept. */
const keepDelay = 200;
const retryDelay = 4000;
/** Browsers finish requests of up to 64 KiB for a page that is gone. */
const mostKeptAlive = 60_000;
/** The version of a kept edit that clashed: no part has it, so that it is never sent without being looked at. */
const inClash = -1;
const away = 'The network is away. Your changes are kept here and sent when it is back.';

const httpSend: SendEdits = (body) =>
  ask('/api/draft/edits', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body,
    keepalive: body.length < mostKeptAlive,
  });

export class Saver {
  readonly page: string;
  savedAt = $state<Date>();
  /** How many things the draft changes about what is live, as of the last saving. */
  changes = $state<number>();
  readonly clashes = new SvelteMap<string, Clash>();
  /** Why the last sending did not come through; undefined once one did. */
  private unreachable = $state<string>();
  /** Sent, and an answer may still come; by part, as all that follows. */
  private inFlight = $state.raw<ReadonlyMap<string, Sent>>(new Map());
  /** Sent, and no answer came. */
  private readonly unanswered = new SvelteMap<string, Sent>();
  /** Not sent, or known not to have been taken. */
  private readonly pending = new SvelteMap<string, Pending>();
  readonly versions = new ServerVersions();
  private timer: ReturnType<typeof setTimeout> | undefined;
  private keeping: ReturnType<typeof setTimeout> | undefined;
  private readonly bodyOf: (ref: PartRef) => unknown;
  private readonly isOurs: (ref: PartRef, theirs: VersionedPart | undefined) => boolean;
  private readonly sendEdits: SendEdits;
  private readonly kept: KeptEdits;
  private readonly settled: SaverPorts['settled'];

  /**
   * `bodyOf`: a part as it stands here; `isOurs`: whether what the server has of a part is just that, so that an
   * earlier sending came through unanswered.
   */
  constructor(
    savedAt: Date | undefined,
    bodyOf: (ref: PartRef) => unknown,
    isOurs: (ref: PartRef, theirs: VersionedPart | undefined) => boolean,
    { send = httpSend, kept = keepNothing, page = uniqueId(), settled }: SaverPorts = {},
  ) {
    this.savedAt = savedAt;
    this.bodyOf = bodyOf;
    this.isOurs = isOurs;
    this.sendEdits = send;
    this.kept = kept;
    this.page = page;
    this.settled = settled;
  }

  /** How things stand now: worked out from what waits, never remembered. */
  readonly state: SaveState = $derived.by(() => {
    if (this.inFlight.size + this.unanswered.size + this.waiting().length > 0)
      return this.unreachable === undefined ? 'saving' : 'kept here';
    if (this.refused.length > 0) return 'refused';
    return this.clashes.size > 0 ? 'clash' : 'saved';
  });

  /** What the server would not take, with its reason; nothing of it is lost. */
  get refused(): readonly { readonly ref: PartRef; readonly reason: string }[] {
    return [...this.pending.values()].flatMap(({ ref, refused }) =>
      refused === undefined ? [] : [{ ref, reason: refused }],
    );
  }

  /** What is wrong now, for the bar. */
  get problem(): string | undefined {
    if (this.state === 'kept here') return this.unreachable;
    const [first, ...more] = this.refused;
    if (this.state !== 'refused' || !first) return undefined;
    return `Not taken, kept here: ${first.reason}${more.length > 0 ? ` And ${ownWriting(more.length)} more.` : ''}`;
  }

  /** Changes of ours to this part are not with the server yet. */
  isBusy(id: string): boolean {
    return this.pending.has(id) || this.inFlight.has(id) || this.unanswered.has(id) || this.clashes.has(id);
  }

  queue(ref: PartRef, operations: readonly Operation[], position?: number): void {
    this.add({
      id: uniqueId(),
      ref: { kind: ref.kind, key: ref.key },
      operations,
      ...(position === undefined ? {} : { position }),
    });
    this.keepSoon();
    this.schedule(saveDelay);
  }

  /** A further edit of a part joins what waits for it; what was refused is tried again with it. */
  private add(more: Pending, first = false): void {
    const id = partId(more.ref);
    const there = this.pending.get(id);
    const [a, b] = first ? [more, there] : [there, more];
    const operations = [...(a?.operations ?? []), ...(b?.operations ?? [])];
    const own = a && b ? uniqueId() : more.id;
    const { refused: _, ...joined } = { ...a, ...b, id: own, ref: more.ref, operations };
    this.pending.set(id, more.refused === undefined ? joined : { ...joined, refused: more.refused });
  }

  private schedule(delay: number): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.save(), delay);
  }

  private waiting(): readonly Pending[] {
    return [...this.pending].flatMap(([id, p]) => (this.clashes.has(id) || p.refused !== undefined ? [] : [p]));
  }

  private asSent(edit: Pending): Sent {
    const body = this.bodyOf(edit.ref);
    return { ...edit, version: this.versions.of(partId(edit.ref)), ...(body === undefined ? {} : { body }) };
  }

  /** Sends what waits. Ends at once where a sending is under way: that one goes on with what came since. */
  async save(): Promise<void> {
    if (this.keeping !== undefined) this.keep();
    if (this.inFlight.size > 0) return;
    clearTimeout(this.timer);
    const again = [...this.unanswered.values()];
    const batch = again.length > 0 ? again : this.waiting().map((p) => this.asSent(p));
    if (batch.length > 0) await this.send(batch);
    this.keep();
    if (this.unanswered.size + this.waiting().length > 0)
      this.schedule(this.unreachable === undefined ? saveDelay : retryDelay);
  }

  /** What was refused is sent once more as it is. */
  async tryAgain(): Promise<void> {
    for (const [id, { refused: _, ...p }] of [...this.pending]) this.pending.set(id, p);
    await this.save();
  }

  /** What was refused is given up; what the server has of it is to be read anew. */
  leaveRefused(): void {
    for (const { ref } of this.refused) {
      this.pending.delete(partId(ref));
      this.versions.set(partId(ref), undefined);
    }
    this.keep();
  }

  private async send(batch: readonly Sent[]): Promise<void> {
    this.inFlight = new Map(batch.map((p) => [partId(p.ref), p]));
    for (const [id, p] of this.inFlight) {
      this.unanswered.delete(id);
      if (this.pending.get(id)?.id === p.id) this.pending.delete(id);
    }
    try {
      const edits = batch.map((p): SentEdit => ({
        ...p.ref,
        id: p.id,
        version: p.version,
        operations: p.operations,
        ...(p.position === undefined ? {} : { position: p.position }),
      }));
      await this.take(await this.sendEdits(JSON.stringify({ page: this.page, edits } satisfies SentEdits)), batch);
    } catch {
      this.leaveUnanswered(batch, away);
    } finally {
      this.inFlight = new Map();
    }
    for (const { ref } of batch) if (!this.isBusy(partId(ref))) this.settled?.(ref);
  }

  private async take(answer: Response, batch: readonly Sent[]): Promise<void> {
    if (answer.ok) {
      const { versions, changes } = (await answer.json()) as SavedEdits;
      for (const v of versions) this.versions.set(partId(v), v.version || undefined);
      this.savedAt = new Date();
      this.changes = changes;
      this.unreachable = undefined;
      return;
    }
    if (answer.status === 409) return this.takeClashes(answer, batch);
    const said = await answer.json().then(
      (b: { message?: string }) => b.message,
      () => undefined,
    );
    // Signed out, asked to wait, or a server that cannot answer: what was sent may be good.
    if (answer.status >= 500 || [401, 408, 429].includes(answer.status))
      return this.leaveUnanswered(batch, said ?? 'The server did not answer. Your changes are kept here.');
    this.unreachable = undefined;
    const [only, ...more] = batch;
    if (more.length === 0)
      return this.add({ ...unsent(only!), refused: said ?? `The server does not take it (${answer.status}).` }, true);
    // Not taken at all: each is sent on its own, so that one that is refused holds up no other.
    for (const p of batch) this.add(unsent(p), true);
    for (const p of batch) await this.send([this.asSent(this.pending.get(partId(p.ref)) ?? unsent(p))]);
  }

  private async takeClashes(answer: Response, batch: readonly Sent[]): Promise<void> {
    const { clashes } = (await answer.json()) as EditsClash;
    this.unreachable = undefined;
    const arrived = new Set<string>();
    for (const { kind, key, part, by } of clashes) {
      const id = partId({ kind, key });
      if (this.isOurs({ kind, key }, part)) {
        arrived.add(id);
        this.pending.delete(id);
        this.versions.set(id, part?.version);
      } else this.clashes.set(id, { ref: { kind, key }, by, ...(part ? { theirs: part } : {}) });
    }
    for (const p of batch) if (!arrived.has(partId(p.ref))) this.add(unsent(p), true);
  }

  private leaveUnanswered(batch: readonly Sent[], problem: string): void {
    for (const p of batch) this.unanswered.set(partId(p.ref), p);
    this.unreachable = problem;
    this.schedule(retryDelay);
  }

  /** Ends a clash: what waited for the part is dropped. */
  settleClash(id: string): void {
    const theirs = this.clashes.get(id)?.theirs;
    this.clashes.delete(id);
    this.pending.delete(id);
    this.versions.set(id, theirs?.version);
    this.keep();
    this.schedule(0);
  }

  /** Not at each key: a part may be large. A page that is closed before keeps it then. */
  private keepSoon(): void {
    this.keeping ??= setTimeout(() => this.keep(), keepDelay);
  }

  /** What is on its way outlives the page from now on. */
  keep(): void {
    clearTimeout(this.keeping);
    this.keeping = undefined;
    const sent = [...this.unanswered.values(), ...this.inFlight.values()];
    const unsent = [...this.pending].map(([id, p]): KeptEdit => {
      const edit = this.asSent(p);
      return this.clashes.has(id) ? { ...edit, version: inClash } : edit;
    });
    this.kept.keep([...sent.map((p): KeptEdit => ({ ...p, sent: true })), ...unsent]);
  }

  /**
   * Edits that pages that are gone left behind, those of a part of one page together and in their order: `open` can be
   * made as they were, `overtaken` are those whose part somebody changed since.
   */
  async takeUp(): Promise<{
    readonly open: readonly (readonly KeptEdit[])[];
    readonly overtaken: readonly KeptEdit[];
  }> {
    const open: (readonly KeptEdit[])[] = [];
    const overtaken: KeptEdit[] = [];
    for (const page of await this.kept.takeUp())
      for (const edits of byPart(page)) {
        const [first, ...more] = this.withoutArrived(edits);
        if (!first) continue;
        const id = partId(first.ref);
        const follows = more.length + 1 < edits.length || first.version === this.versions.of(id);
        if (follows && !this.isBusy(id)) open.push([first, ...more]);
        else overtaken.push(joinedEdits(first, ...more));
      }
    return { open, overtaken };
  }

  /** Without what came to the server although no answer came. */
  private withoutArrived([first, ...more]: readonly KeptEdit[]): readonly KeptEdit[] {
    if (!first) return more;
    const { ref, sent, version, body } = first;
    const arrived = sent && version !== this.versions.of(partId(ref)) && sameJson(this.bodyOf(ref), body);
    return arrived ? more : [first, ...more];
  }

  /** An edit of before that was made again here goes on its way as it was. */
  resume({ id, ref, operations, position, sent, version, body }: KeptEdit): void {
    const edit: Pending = { id, ref, operations, ...(position === undefined ? {} : { position }) };
    const part = partId(ref);
    if (!sent || this.isBusy(part)) this.add(edit);
    else this.unanswered.set(part, { ...edit, version, ...(body === undefined ? {} : { body }) });
    this.keepSoon();
    this.schedule(0);
  }

  /** An edit of before that would be refused: kept until it is tried again by hand, or undone. */
  holdBack({ id, ref, operations, position }: KeptEdit, refused: string): void {
    this.pending.set(partId(ref), { id, ref, operations, refused, ...(position === undefined ? {} : { position }) });
    this.keep();
  }

  /** An edit of before that cannot be made as it was: ours beside theirs, kept until somebody chooses. */
  openClash(edit: KeptEdit, theirs: VersionedPart | undefined): void {
    const { id, ref, operations } = edit;
    this.pending.set(partId(ref), { id, ref, operations });
    this.clashes.set(partId(ref), { ref, by: null, ...(theirs ? { theirs } : {}) });
    this.keep();
  }
}
