/**
 * What others do to the draft, taken in as it comes. A part that has changes of ours on their way waits for those; an
 * edit that does not follow on what is known here has the whole draft asked for.
 */
import { editPartBody, partId, PatchError, type PartRef } from '@rigid-rule/core/document';
import type { PartEdited, RemoteEdit, VersionedPart } from '$lib/draft-protocol.ts';
import type { PartStore } from './part-store.ts';
import type { ServerVersions } from './server-versions.ts';

/** What is known of the server's side of each part. */
export interface ServerSide {
  readonly versions: ServerVersions;
  /** Changes of ours are not there yet. */
  isBusy(id: string): boolean;
}

export interface RemoteEditsPorts {
  /** Whether a part is of a shape that can be worked with; where not, it is said. */
  readonly isSound: (part: VersionedPart | undefined) => boolean;
  /** Tells of what somebody did: their name, and that of the part. */
  readonly heard: (by: string, what: string) => void;
  /** An edit was missed. */
  readonly missed: () => void;
}

export class RemoteEdits {
  /** What others did to parts while changes of ours were on their way. */
  private readonly waiting = new Map<string, RemoteEdit>();

  constructor(
    private readonly store: PartStore,
    private readonly server: ServerSide,
    private readonly ports: RemoteEditsPorts,
  ) {}

  /** The part as the server has it; undefined: it has none. */
  takeOver(ref: PartRef, part: VersionedPart | undefined): void {
    if (part) this.store.put(part);
    else this.store.remove(ref);
    this.server.versions.set(partId(ref), part?.version);
  }

  /** Takes in what somebody did; what we are changing ourselves waits for the clash to be shown. */
  apply(edit: RemoteEdit): void {
    const { kind, key, by, change } = edit;
    const id = partId(edit);
    const version = edit.part?.version ?? change?.version;
    if (version !== undefined && version <= this.server.versions.of(id)) return;
    // Where it is taken away, or ours does not fit, the clash is shown when ours is sent.
    if (this.server.isBusy(id)) return void (version !== undefined && this.waiting.set(id, edit));
    const part = change ? this.changed(edit, change) : edit.part;
    if (change && !part) return this.ports.missed();
    const named = (part ?? this.store.get(edit))?.body as { name?: string } | undefined;
    if (!this.ports.isSound(part)) return;
    this.ports.heard(by, named?.name ?? kind);
    this.takeOver({ kind, key }, part);
  }

  /** The part as an edit makes it; undefined where the edit is of another version than the one before ours. */
  private changed(ref: PartRef, { version, operations }: PartEdited): VersionedPart | undefined {
    const own = this.store.get(ref);
    if (!own || this.server.versions.of(partId(ref)) !== version - 1) return undefined;
    try {
      const { body } = editPartBody(own.body as object, operations);
      return body && { ...own, version, body };
    } catch (e) {
      if (e instanceof PatchError) return undefined;
      throw e;
    }
  }

  /** Nothing of ours is on its way to this part any more. */
  catchUp(ref: PartRef): void {
    const edit = this.waiting.get(partId(ref));
    this.waiting.delete(partId(ref));
    if (edit) this.apply(edit);
  }

  /**
   * Takes over what the server has, for parts that nothing of ours is waiting on. `readAt`: the moment at which it began to
   * be read; what was made or taken away since is not known to it.
   */
  refresh(parts: readonly VersionedPart[], readAt: number): void {
    const { versions } = this.server;
    const there = new Set(parts.map(partId));
    for (const part of this.store.all()) {
      const id = partId(part);
      if (there.has(id) || this.server.isBusy(id) || versions.heardSince(id, readAt)) continue;
      this.takeOver(part, undefined);
    }
    for (const part of parts) {
      const id = partId(part);
      const isGone = !this.store.get(part) && versions.heardSince(id, readAt);
      if (isGone || versions.of(id) >= part.version) continue;
      if (this.server.isBusy(id)) this.waiting.set(id, { kind: part.kind, key: part.key, by: 'somebody', part });
      else if (this.ports.isSound(part)) this.takeOver(part, part);
    }
  }
}
