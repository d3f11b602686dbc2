import type { VersionedPart } from '$lib/draft-protocol.ts';
import type { Parts } from './part-store.ts';

/**
 * Parts by id, watched as one: whoever reads some of them is told when any changes. To watch each by itself takes a signal a
 * part, and a large rulebook has ten thousand, all of which it reads anew with each edit.
 */
export class WatchedParts implements Parts {
  private readonly parts = new Map<string, VersionedPart>();
  private edits = 0;
  private edit = $state(0);

  get(id: string): VersionedPart | undefined {
    void this.edit;
    return this.parts.get(id);
  }

  values(): Iterable<VersionedPart> {
    void this.edit;
    return this.parts.values();
  }

  set(id: string, part: VersionedPart): void {
    this.parts.set(id, part);
    this.edit = ++this.edits;
  }

  delete(id: string): void {
    this.parts.delete(id);
    this.edit = ++this.edits;
  }
}
