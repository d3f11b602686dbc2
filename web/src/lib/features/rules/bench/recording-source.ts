import type { RecordQuery, FoundRecord, RecordSource } from '@rigid-rule/core/records';
import type { RelatedRecord } from './bench.svelte.ts';

/** A world that notes every record that it gives. */
export class RecordingSource implements RecordSource {
  private readonly behind: RecordSource;
  private readonly given = new Map<string, RelatedRecord>();

  constructor(behind: RecordSource) {
    this.behind = behind;
  }

  answer(ask: RecordQuery): readonly FoundRecord[] | undefined {
    const found = this.behind.answer(ask);
    for (const { id, data } of found ?? [])
      this.given.set(`${ask.recordType}\0${id}`, { recordType: ask.recordType, id, data });
    return found;
  }

  get read(): readonly RelatedRecord[] {
    return [...this.given.values()];
  }
}
