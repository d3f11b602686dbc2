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
  /** Offers nothing any more. */
  readonly end: () => void;

  /** @param offer Offers these acts until the function that it gives is called. */
  constructor(offer: (acts: readonly KeyAct[]) => () => void) {
    this.end = offer(benchActs((key) => () => void this.pressed.push(key)));
  }

  /** What was pressed so far: from now on the bench itself hears its keys. */
  take(): readonly BenchKey[] {
    this.end();
    return this.pressed.splice(0);
  }
}
