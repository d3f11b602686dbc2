import type { KeyAct } from '$lib/ui/keys.ts';

/** Keys of the bench and what they do: known to the desk before the bench itself is there. */
const keysOfBench = {
  J: 'next sample record',
  K: 'previous sample record',
  T: 'keep the try as a test',
} as const;

type BenchKey = keyof typeof keysOfBench;

export const benchActs = (run: (key: BenchKey) => () => void): readonly KeyAct[] =>
  (Object.keys(keysOfBench) as BenchKey[]).map((keys) => ({ keys, does: keysOfBench[keys], run: run(keys) }));

/** Keys that are pressed while the bench is on its way: it does what they ask once it is there. */
export class PressedAhead {
  private pressed: BenchKey[] = [];

  readonly acts: readonly KeyAct[] = benchActs((key) => () => void this.pressed.push(key));

  /** What was pressed so far, once. */
  take(): readonly BenchKey[] {
    return this.pressed.splice(0);
  }
}
