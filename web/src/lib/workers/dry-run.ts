/**
 * Runs a rulebook over sample records against another, apart from the page. Each of two workers loads the samples itself
 * and tries its share of them; figures come as they are found, and the records behind a number are asked for.
 */
import { compileProgram, type Program } from '@rigid-rule/core/compile';
import type { Rulebook } from '@rigid-rule/core/document';
import { RecordsSource, type FoundRecord, type StoredRecordOf } from '@rigid-rule/core/records';
import {
  commonTrait,
  findWitnesses,
  Impact,
  type ImpactFigures,
  type ImpactWay,
  type MovedRecord,
  type Witness,
} from '@rigid-rule/core/rule-tests';
import { expose } from 'comlink';
import { hostOf } from '../host-loading.ts';

export interface DryRunRequest {
  readonly draft: Rulebook;
  /** What it is compared with; `stored`: what the samples hold. */
  readonly against: Rulebook | 'stored';
  readonly way: ImpactWay;
  /** Id of the sample set; undefined: the usual one. */
  readonly set: number | undefined;
  readonly now: string;
  /** Which share of how many. */
  readonly share: number;
  readonly of: number;
  /** Just these record types; absent: all that have rules. */
  readonly types?: readonly string[];
}

export interface TypeImpact {
  readonly recordType: string;
  readonly plural: string;
  /** Samples of the type in the whole set. */
  readonly samples: number;
  readonly figures: ImpactFigures;
}

/** Milliseconds of work between two looks at what came in. */
const slice = 60;
const pause = () => new Promise<void>((resolve) => setTimeout(resolve));

interface TypeRun {
  readonly recordType: { readonly key: string; readonly plural: string };
  readonly own: readonly FoundRecord[];
  /** Places in `own` of those tried here, in order. */
  readonly places: number[];
  readonly impact: Impact;
}

class DryRunWork {
  private readonly loaded = new Map<string, Promise<readonly StoredRecordOf[]>>();
  private readonly runs = new Map<string, TypeRun>();
  private epoch = 0;

  cancel(): void {
    this.epoch++;
  }

  private samples(type: string, set: number | undefined): Promise<readonly StoredRecordOf[]> {
    const key = `${set ?? ''} ${type}`;
    const load = async (): Promise<readonly StoredRecordOf[]> => {
      const answer = await fetch(`/api/samples/${type}${set === undefined ? '' : `?set=${set}`}`);
      // A record type that was made a moment ago may not be with the server yet: it has no samples.
      if (answer.status === 404) return [];
      if (!answer.ok) throw new Error('The sample records could not be loaded.');
      const { samples } = (await answer.json()) as { samples: readonly { id: number; data: FoundRecord['data'] }[] };
      return samples.map(({ id, data }) => ({ recordType: type, id: String(id), data }));
    };
    const found = this.loaded.get(key) ?? load();
    this.loaded.set(key, found);
    return found;
  }

  /** Figures of this share as they come; false: cancelled or overtaken. */
  async run(
    request: DryRunRequest,
    told: (types: readonly TypeImpact[], done: number, all: number) => void,
  ): Promise<boolean> {
    const epoch = ++this.epoch;
    const { draft, against, way, set, now, share, of } = request;
    const after = compileProgram(draft, await hostOf(draft));
    const before = against === 'stored' ? against : compileProgram(against, await hostOf(against));
    const all = (await Promise.all(draft.recordTypes.map((t) => this.samples(t.key, set)))).flat();
    if (epoch !== this.epoch) return false;
    const world = new RecordsSource(all);
    this.runs.clear();
    for (const { recordType, rules } of after.types.values()) {
      const had = before === 'stored' ? 0 : (before.types.get(recordType.key)?.rules.length ?? 0);
      if (rules.length + had === 0 || (request.types && !request.types.includes(recordType.key))) continue;
      this.runs.set(recordType.key, {
        recordType,
        own: all.filter((s) => s.recordType === recordType.key),
        places: [],
        impact: new Impact(recordType, before, after, way, world, now),
      });
    }
    const total = [...this.runs.values()].reduce((n, r) => n + Math.ceil((r.own.length - share) / of), 0);
    let done = 0;
    let until = performance.now() + slice;
    let shown = performance.now();
    for (const { own, places, impact } of this.runs.values())
      for (let i = share; i < own.length; i += of) {
        impact.add(own[i]!);
        places.push(i);
        done++;
        if (performance.now() < until) continue;
        if (performance.now() - shown > 250) {
          told(this.figures(), done, total);
          shown = performance.now();
        }
        await pause();
        if (epoch !== this.epoch) return false;
        until = performance.now() + slice;
      }
    told(this.figures(), done, total);
    return true;
  }

  private figures(): readonly TypeImpact[] {
    return [...this.runs.values()].map(({ recordType, own, impact }) => ({
      recordType: recordType.key,
      plural: recordType.plural,
      samples: own.length,
      figures: impact.share(),
    }));
  }

  /** Records of a move, each with what becomes of the field; and their places among all samples of the type. */
  moved(
    type: string,
    field: string,
    from: string,
    to: string,
    most: number,
  ): { readonly records: readonly MovedRecord[]; readonly places: readonly number[] } {
    const run = this.runs.get(type);
    if (!run) return { records: [], places: [] };
    const found = run.impact.movedRecords(field, from, to);
    return {
      records: found.slice(0, most).map((at) => run.impact.look(at, field)),
      places: found.map((at) => run.places[at]!),
    };
  }

  /** The same of those that are newly stopped with a message. */
  stopped(
    type: string,
    message: string,
    most: number,
  ): { readonly records: readonly MovedRecord[]; readonly places: readonly number[] } {
    const run = this.runs.get(type);
    if (!run) return { records: [], places: [] };
    const found = run.impact.stoppedRecords(message);
    return {
      records: found.slice(0, most).map((at) => run.impact.look(at, '')),
      places: found.map((at) => run.places[at]!),
    };
  }

  /** What sets these apart from the other samples of the type. */
  trait(type: string, draft: Rulebook, places: readonly number[]): string | undefined {
    const run = this.runs.get(type);
    const recordType = draft.recordTypes.find((t) => t.key === type);
    return run && recordType && commonTrait(recordType, run.own, new Set(places));
  }

  /** Records made up to show where two rulebooks differ. */
  async witnesses(live: Rulebook, draft: Rulebook): Promise<readonly Witness[]> {
    const [before, after] = await Promise.all(
      [live, draft].map(async (b): Promise<Program> => compileProgram(b, await hostOf(b))),
    );
    const work = findWitnesses(before!, after!);
    let until = performance.now() + slice;
    for (;;) {
      const step = work.next();
      if (step.done) return step.value;
      if (performance.now() < until) continue;
      await pause();
      until = performance.now() + slice;
    }
  }
}

export type { DryRunWork };
expose(new DryRunWork());
