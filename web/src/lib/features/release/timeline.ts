/** Releases in the order in which they went live, as the ruler of releases shows them. */
interface Activation {
  readonly id: number;
  readonly release: number;
  readonly note: string;
  readonly activatedBy: string | null;
  readonly activatedAt: Date;
}

export interface TimelineEntry {
  readonly id: string;
  readonly release: number;
  readonly at: Date;
  readonly head: string;
  readonly note: string;
  readonly by: string | null;
  readonly live: boolean;
}

/** `activations`: newest first. */
export const timelineOf = (activations: readonly Activation[]): readonly TimelineEntry[] =>
  activations.map((a, i) => ({
    id: String(a.id),
    release: a.release,
    at: a.activatedAt,
    head: `Release ${a.release}${activations.slice(i + 1).some((b) => b.release === a.release) ? ', put back' : ''}`,
    note: a.note,
    by: a.activatedBy,
    live: i === 0,
  }));
