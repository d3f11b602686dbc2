/** Sample records of all record types: loaded a type at a time, when they are first asked for. */
import type { RecordData, RecordType } from '@rigid-rule/core/document';
import { recordTitle } from '@rigid-rule/core/language';
import { RecordsSource, type RecordSource } from '@rigid-rule/core/records';
import { getContext, setContext } from 'svelte';
import { SvelteMap } from 'svelte/reactivity';

export interface SampleRecord {
  readonly id: number;
  readonly data: RecordData;
}

const none: readonly SampleRecord[] = [];
/** Samples of a type that the bench has at hand: a set of hundreds of thousands opens as fast as a small one. */
const mostOnBench = 3000;

const setKey = 'rigid-rule-sample-set';

/** The set that was chosen in this browser. */
function chosenSet(): number | undefined {
  const n = Number(globalThis.localStorage?.getItem(setKey) ?? NaN);
  return Number.isSafeInteger(n) && n > 0 ? n : undefined;
}

export class SampleSet {
  private readonly byType = new SvelteMap<string, readonly SampleRecord[]>();
  private readonly asked = new Map<string, Promise<void>>();
  problem = $state<string>();
  private chosen = $state(chosenSet());

  /** Id of the set at hand, here and on the bench; undefined: the oldest. */
  get set(): number | undefined {
    return this.chosen;
  }

  /** Another set from now on, and the next time in this browser. */
  choose(id: number): void {
    localStorage.setItem(setKey, String(id));
    if (id === this.chosen) return;
    this.chosen = id;
    this.asked.clear();
    this.byType.clear();
  }

  /** Those of a type; none while they are being loaded. */
  of(type: string): readonly SampleRecord[] {
    return this.byType.get(type) ?? none;
  }

  isLoaded(type: string): boolean {
    return this.byType.has(type);
  }

  load(type: string): Promise<void> {
    let loading = this.asked.get(type);
    if (!loading) this.asked.set(type, (loading = this.fetch(type)));
    return loading;
  }

  loadAll(types: readonly RecordType[]): Promise<unknown> {
    return Promise.all(types.map((t) => this.load(t.key)));
  }

  private async fetch(type: string): Promise<void> {
    const { set } = this;
    try {
      const asked = new URLSearchParams({
        most: String(mostOnBench),
        ...(set === undefined ? {} : { set: String(set) }),
      });
      const answer = await fetch(`/api/samples/${type}?${asked.toString()}`);
      // A record type that was made a moment ago may not be with the server yet: it has no samples.
      if (!answer.ok && answer.status !== 404) throw new Error();
      const { samples = none } = (await answer.json()) as { samples?: readonly SampleRecord[] };
      // Another set may have been chosen meanwhile.
      if (set === this.chosen) this.byType.set(type, samples);
      this.problem = undefined;
    } catch {
      this.asked.delete(type);
      this.problem = 'The sample records could not be loaded.';
    }
  }

  /** As rules read them; what is still being loaded is not known yet, and nobody is told that it is not there. */
  readonly world: RecordSource = $derived.by(() => {
    const loaded = new Set(this.byType.keys());
    const world = new RecordsSource(
      [...this.byType].flatMap(([recordType, list]) =>
        list.map(({ id, data }) => ({ recordType, id: String(id), data })),
      ),
    );
    return { answer: (ask) => (loaded.has(ask.recordType) ? world.answer(ask) : undefined) };
  });
}

const mostLinks = 20;

/** Sample records of a type whose title holds a text. */
export function findSamples(samples: SampleSet, type: RecordType | undefined, text: string) {
  if (!type) return [];
  const wanted = text.toLowerCase();
  const found: { id: number; title: string }[] = [];
  for (const { id, data } of samples.of(type.key)) {
    const title = recordTitle(type, data);
    if (title.toLowerCase().includes(wanted)) found.push({ id, title });
    if (found.length === mostLinks) break;
  }
  return found;
}

const key = Symbol('samples');
export const provideSamples = (samples: SampleSet): SampleSet => setContext(key, samples);
export const useSamples = (): SampleSet => getContext<SampleSet>(key);
