/** What the ways to another sample set are given. */

export interface Making {
  /** Something is being made, or the set has no name yet. */
  readonly waits: boolean;
  /** Does the work, tells how it goes, and then what came of it. */
  act(work: () => Promise<string>): Promise<void>;
  progress(done: number, all: number): void;
}
