/**
 * Sends edits of the draft to the server, all that wait in one go; what could not be sent is kept in the page and in
 * local storage until it is. Knows versions and operations, nothing of what they mean.
 */
import { partId, type Operation, type PartRef } from '@rigid-rule/core';
import { SvelteMap } from 'svelte/reactivity';
import type { VersionedPart } from './parts.ts';

/** Someone else changed the part meanwhile: theirs is shown beside ours, and neither is lost. */
export interface Clash {
  readonly ref: PartRef;
  /** Absent where they took the part away. */
  readonly theirs?: VersionedPart;
  readonly by: string | null;
}

export type SaveState = 'saved' | 'saving' | 'kept here' | 'refused';

interface Pending {
  /** Known to the server once it was done: sent again after a closed tab, it is not done again. */
  readonly id: string;
  readonly ref: PartRef;
  readonly operations: readonly Operation[];
  readonly position?: number;
}

interface Kept extends Pending {
  readonly version: number;
}

const saveDelay = 350;
const retryDelay = 4000;
/** Browsers finish requests of up to 64 KiB for a page that is gone. */
const mostKeptAlive = 60_000;
const storageKey = 'rigid-rule:unsaved-edits';
const away = 'The network is away. Your changes are kept here and sent when it is back.';

export class Saver {
  /** Names this page, so that it does not hear of its own edits. */
  readonly page: string = crypto.randomUUID();
  state = $state<SaveState>('saved');
  savedAt = $state<Date>();
  problem = $state<string>();
  readonly clashes = new SvelteMap<string, Clash>();
  /** Versions that the server has, by part; a part that it has not is not here. */
  private readonly versions = new Map<string, number>();
  private readonly pending = new Map<string, Pending>();
  private inFlight: ReadonlySet<string> = new Set();
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** Ids of edits taken over from an earlier page, by part. */
  private readonly keptIds = new Map<string, string>();

  private readonly isOurs: (ref: PartRef, theirs: VersionedPart | undefined) => boolean;

  /** `isOurs`: whether what the server has of a part is what stands here: an earlier sending came through unanswered. */
  constructor(savedAt: Date | undefined, isOurs: (ref: PartRef, theirs: VersionedPart | undefined) => boolean) {
    this.savedAt = savedAt;
    this.isOurs = isOurs;
  }

  versionOf(id: string): number {
    return this.versions.get(id) ?? 0;
  }

  /** What the server has of a part; undefined: nothing any more. */
  learn(id: string, version: number | undefined): void {
    if (version === undefined) this.versions.delete(id);
    else this.versions.set(id, version);
  }

  /** Changes of ours to this part are not with the server yet. */
  isBusy(id: string): boolean {
    return this.pending.has(id) || this.inFlight.has(id) || this.clashes.has(id);
  }

  queue(ref: PartRef, operations: readonly Operation[], position?: number): void {
    const id = this.keptIds.get(partId(ref)) ?? crypto.randomUUID();
    this.keptIds.delete(partId(ref));
    this.add({
      id,
      ref: { kind: ref.kind, key: ref.key },
      operations,
      ...(position === undefined ? {} : { position }),
    });
    this.keep();
    if (this.state !== 'kept here') this.state = 'saving';
    this.schedule(saveDelay);
  }

  private add(more: Pending, first = false): void {
    const id = partId(more.ref);
    const there = this.pending.get(id);
    const [a, b] = first ? [more, there] : [there, more];
    const operations = [...(a?.operations ?? []), ...(b?.operations ?? [])];
    const own = a && b ? crypto.randomUUID() : more.id;
    this.pending.set(id, { ...a, ...b, id: own, ref: more.ref, operations });
  }

  private schedule(delay: number): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.save(), delay);
  }

  /** Sends what waits. Ends at once where a sending is under way: that one goes on with what came since. */
  async save(): Promise<void> {
    if (this.inFlight.size > 0) return;
    clearTimeout(this.timer);
    const batch = [...this.pending].filter(([id]) => !this.clashes.has(id));
    if (batch.length > 0) await this.send(batch.map(([, p]) => p));
    this.keep();
    const open = [...this.pending.keys()].some((id) => !this.clashes.has(id));
    if (this.state === 'saving') {
      if (open) this.schedule(saveDelay);
      else if (this.clashes.size === 0) this.state = 'saved';
    }
  }

  private async send(batch: readonly Pending[]): Promise<void> {
    this.inFlight = new Set(batch.map((p) => partId(p.ref)));
    for (const id of this.inFlight) this.pending.delete(id);
    try {
      const edits = batch.map((p) => ({
        ...p.ref,
        id: p.id,
        version: this.versionOf(partId(p.ref)),
        operations: p.operations,
        ...(p.position === undefined ? {} : { position: p.position }),
      }));
      const body = JSON.stringify({ page: this.page, edits });
      const answer = await fetch('/api/draft/edits', {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body,
        keepalive: body.length < mostKeptAlive,
      });
      await this.take(answer, batch);
    } catch {
      this.putBack(batch, away);
    } finally {
      this.inFlight = new Set();
    }
  }

  private async take(answer: Response, batch: readonly Pending[]): Promise<void> {
    if (answer.ok) {
      const { versions } = (await answer.json()) as { versions: readonly (PartRef & { version: number })[] };
      for (const v of versions) this.learn(partId(v), v.version || undefined);
      this.savedAt = new Date();
      this.problem = undefined;
      this.state = 'saving';
      return;
    }
    if (answer.status === 409) {
      const { clashes } = (await answer.json()) as {
        clashes: readonly (PartRef & { part?: VersionedPart; by: string | null })[];
      };
      const arrived = new Set<string>();
      for (const { kind, key, part, by } of clashes) {
        const id = partId({ kind, key });
        if (this.isOurs({ kind, key }, part)) {
          arrived.add(id);
          this.learn(id, part?.version);
        } else this.clashes.set(id, { ref: { kind, key }, by, ...(part ? { theirs: part } : {}) });
      }
      for (const p of batch) if (!arrived.has(partId(p.ref))) this.add(p, true);
      this.state = clashes.length < batch.length || arrived.size > 0 ? 'saving' : 'kept here';
      return;
    }
    const said = await answer.json().then(
      (b: { message?: string }) => b.message,
      () => undefined,
    );
    if (answer.status >= 500 || answer.status === 401)
      return this.putBack(batch, said ?? 'The server did not answer. Your changes are kept here.');
    // Not taken at all: each is sent on its own, so that one that is refused holds up no other.
    if (batch.length > 1) {
      for (const p of batch) await this.send([p]);
      return;
    }
    this.state = 'refused';
    this.problem = said ?? 'This change was not taken.';
  }

  private putBack(batch: readonly Pending[], problem: string): void {
    for (const p of batch) this.add(p, true);
    this.state = 'kept here';
    this.problem = problem;
    this.schedule(retryDelay);
  }

  /** Ends a clash: what waited for the part is dropped. */
  settleClash(id: string): void {
    const theirs = this.clashes.get(id)?.theirs;
    this.clashes.delete(id);
    this.pending.delete(id);
    this.learn(id, theirs?.version);
    if (this.state === 'kept here') this.state = 'saving';
    this.schedule(0);
  }

  /** Writes what is not saved yet to local storage; a closed tab loses nothing. */
  private keep(): void {
    const kept: Kept[] = [...this.pending].map(([id, p]) => ({ ...p, version: this.versionOf(id) }));
    try {
      if (kept.length === 0) localStorage.removeItem(storageKey);
      else localStorage.setItem(storageKey, JSON.stringify(kept));
    } catch {
      // More than local storage holds (a pasted table of many thousand rows): it stays in the page until it is sent.
    }
  }

  /** Edits that an earlier page could not save and nobody has overtaken; they are no longer kept. */
  takeKept(): readonly Pending[] {
    const kept = localStorage.getItem(storageKey);
    if (!kept) return [];
    localStorage.removeItem(storageKey);
    const taken = (JSON.parse(kept) as Kept[]).filter((k) => k.version === this.versionOf(partId(k.ref)));
    for (const k of taken) this.keptIds.set(partId(k.ref), k.id);
    return taken;
  }
}
