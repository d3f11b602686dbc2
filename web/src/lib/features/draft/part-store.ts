/**
 * The parts of a draft: which there are, which keys and positions are free, and what an act of edits comes to. It is
 * all done or not at all. Knows nothing of who edits, of the server, or of what can be undone.
 */
import {
  creating,
  editPartBody,
  partId,
  PatchError,
  type PartBody,
  type PartKind,
  type PartRef,
} from '@rigid-rule/core/document';
import { draftPartProblem } from '$lib/draft-part.ts';
import type { VersionedPart } from '$lib/draft-protocol.ts';
import type { PartChange, PartEdit } from './parts.ts';

/** An act of edits: what it changes, or why nothing was changed; no reason where an edit does not fit any more. */
export type Applied = { readonly changes: readonly PartChange[] } | { readonly problem: string | undefined };

/** Parts by id; a `Map` is one. */
export interface Parts {
  get(id: string): VersionedPart | undefined;
  values(): Iterable<VersionedPart>;
  set(id: string, part: VersionedPart): unknown;
  delete(id: string): unknown;
}

export class PartStore {
  /** Bodies are immutable; a change puts a new one. `parts`: by id; the interface hands in one that it watches. */
  constructor(private readonly parts: Parts = new Map<string, VersionedPart>()) {}

  all(): readonly VersionedPart[] {
    return [...this.parts.values()];
  }
  get(ref: PartRef): VersionedPart | undefined {
    return this.parts.get(partId(ref));
  }
  put(part: VersionedPart): void {
    this.parts.set(partId(part), part);
  }
  remove(ref: PartRef): void {
    this.parts.delete(partId(ref));
  }

  /** A key for a new part that no other has: made of a name. */
  freeKey(kind: PartKind, name: string, prefix = ''): string {
    const base =
      name
        .normalize('NFKD')
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '_')
        .replace(/^_+|_+$/g, '')
        .slice(0, 60) || kind.replace(' ', '_');
    for (let n = 1; ; n++) {
      const key = n === 1 ? base : `${base}_${n}`;
      if (!this.get({ kind, key: prefix + key })) return key;
    }
  }

  private positions(kind: PartKind): number[] {
    return this.all().flatMap((p) => (p.kind === kind ? [p.position] : []));
  }

  /** A position behind all parts of the kind. */
  lastPosition(kind: PartKind): number {
    return Math.max(-1, ...this.positions(kind)) + 1;
  }

  /** A position right behind a part, among those of its kind. */
  positionAfter(ref: PartRef): number {
    const own = this.get(ref)?.position ?? this.lastPosition(ref.kind);
    const next = Math.min(...this.positions(ref.kind).filter((p) => p > own), own + 1);
    return (own + next) / 2;
  }

  /** A part with this body: as it stood, or new at the end of its kind. `position`: where it comes to stand instead. */
  withBody({ kind, key }: PartRef, body: PartBody, position?: number): VersionedPart {
    const there = this.get({ kind, key });
    const at = position ?? there?.position ?? this.lastPosition(kind);
    return { kind, key, version: there?.version ?? 0, position: at, body };
  }

  /** The edit that makes a new part, behind all of its kind. */
  creation(ref: PartRef, body: object): PartEdit {
    return { ref, operations: [creating(body)], position: this.lastPosition(ref.kind) };
  }

  /** Does an act of edits, or nothing. */
  apply(edits: readonly PartEdit[]): Applied {
    const bodies = new Map<string, PartBody>();
    const changes: PartChange[] = [];
    try {
      for (const edit of edits) {
        const id = partId(edit.ref);
        const part = this.parts.get(id);
        const now = bodies.has(id) ? bodies.get(id) : (part?.body as PartBody);
        const { body, inverse } = editPartBody(now, edit.operations);
        const problem = body && draftPartProblem(edit.ref, body);
        if (problem) return { problem };
        bodies.set(id, body);
        const moved = part && (edit.position !== undefined || body === undefined);
        changes.push({ ...edit, inverse, ...(moved ? { positionBefore: part.position } : {}) });
      }
    } catch (e) {
      if (e instanceof PatchError) return { problem: undefined };
      throw e;
    }
    for (const { ref, position } of edits) {
      const body = bodies.get(partId(ref));
      if (body === undefined) this.remove(ref);
      else this.put(this.withBody(ref, body, position));
    }
    return { changes };
  }
}
