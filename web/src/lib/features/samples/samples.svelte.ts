/** The set of samples that was chosen in this browser, and what is at hand of it. */
import type { HeldValues } from '@rigid-rule/core/compile';
import { recordTitle } from '@rigid-rule/core/language';
import type { RecordType } from '@rigid-rule/core/document';
import type { RecordSource } from '@rigid-rule/core/records';
import type { FindLinks } from '$lib/features/fields';
import { browser } from '$app/environment';
import { habits } from '$lib/browser-storage.ts';
import { getContext, setContext } from 'svelte';
import { createSubscriber } from 'svelte/reactivity';
import { httpSamples, noSamples, type SampleRecord, type SampleServer } from './sample-server.ts';
import { SampleStore } from './sample-store.ts';

const setKey = 'rigid-rule-sample-set';

/** The set that was chosen in this browser. */
function chosenSet(): number | undefined {
  const n = Number(habits.get(setKey) ?? NaN);
  return Number.isSafeInteger(n) && n > 0 ? n : undefined;
}

/** Reads as `SampleStore` does; what is read is read anew once more of it is at hand. */
export class SampleSet {
  private chosen = $state(chosenSet());
  /** Counts the times that a set was chosen or filled: what was loaded of it before stands no longer. */
  edition = $state(0);
  private server: SampleServer;
  private store: SampleStore;
  private notify: () => void = () => undefined;
  private readonly follow = createSubscriber((update) => {
    this.notify = update;
    return () => (this.notify = () => undefined);
  });

  constructor() {
    this.server = browser ? httpSamples(this.chosen) : noSamples;
    this.store = this.storeOf(this.server);
  }

  private storeOf(server: SampleServer): SampleStore {
    return new SampleStore(server, () => this.notify());
  }

  private get read(): SampleStore {
    this.follow();
    return this.store;
  }

  /** Id of the set at hand, here and on the bench; undefined: the oldest. */
  get set(): number | undefined {
    return this.chosen;
  }

  /** Another set from now on, and the next time in this browser; or the same one, as it is by now. */
  choose(id: number): void {
    habits.set(setKey, String(id));
    this.chosen = id;
    this.edition++;
    this.server = httpSamples(id);
    this.store = this.storeOf(this.server);
    this.notify();
  }

  get problem(): string | undefined {
    return this.read.problem;
  }

  total(recordType: string): number | undefined {
    return this.read.total(recordType);
  }

  at(recordType: string, index: number): SampleRecord | undefined {
    return this.read.at(recordType, index);
  }

  first(recordType: string): readonly SampleRecord[] {
    return this.read.first(recordType);
  }

  values(recordType: string, fields: readonly string[]): readonly HeldValues[] | undefined {
    return this.read.values(recordType, fields);
  }

  readonly source: RecordSource = { answer: (ask) => this.read.source.answer(ask) };

  /** What a sample is called; undefined where there is none; … while it is not here. */
  title(type: RecordType, id: string): string | undefined {
    const found = this.source.answer({ kind: 'record', recordType: type.key, id });
    if (!found) return '…';
    return found[0] && (recordTitle(type, found[0].data) || 'no name');
  }

  /** Samples of a type whose title holds a text; none where the server cannot be reached. */
  readonly find: FindLinks = (recordType, text) => this.server.find(recordType, text).catch(() => []);
}

const key = Symbol('samples');
export const provideSamples = (samples: SampleSet): SampleSet => setContext(key, samples);
export const useSamples = (): SampleSet => getContext<SampleSet>(key);
