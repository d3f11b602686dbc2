/**
 * Runs a rulebook over sample records against another, apart from the page. Each of two workers is given the samples and
 * tries its share of them; figures come as they are found, and the records behind a number are asked for.
 */
import { compileProgram, type Program } from '@rigid-rule/core/compile';
import { sameJson, type Rulebook } from '@rigid-rule/core/document';
import { PackedRecords, type FoundRecord } from '@rigid-rule/core/records';
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
import { writingOf } from '../writing.ts';

export interface DryRunRequest {
  readonly draft: Rulebook;
  /** What it is compared with; `stored`: what the samples hold. */
  readonly against: Rulebook | 'stored';
  readonly way: ImpactWay;
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

/** The records behind a number, the first of this share, and the places of all of them. */
interface BehindShare {
  readonly records: readonly MovedRecord[];
  readonly places: readonly number[];
}

/** Records of each side that are compared for what sets them apart. */
const mostCompared = 4000;

function evenly<T>(list: readonly T[], most: number): readonly T[] {
  if (list.length <= most) return list;
  return Array.from({ length: most }, (_, i) => list[Math.floor((i * list.length) / most)]!);
}

/** Milliseconds of work between two looks at what came in. */
const slice = 60;
const pause = () => new Promise<void>((resolve) => setTimeout(resolve));

interface TypeRun {
  readonly recordType: { readonly key: string; readonly plural: string };
  readonly impact: Impact;
}

class DryRunWork {
  private packed = new PackedRecords();
  private share = { share: 0, of: 1 };
  private readonly runs = new Map<string, TypeRun>();
  private epoch = 0;
  /** As they were last asked for: the same rulebooks are tried in several ways, one after the other. */
  private readonly programs: Partial<Record<'before' | 'after', Program>> = {};

  private async programOf(side: 'before' | 'after', rulebook: Rulebook): Promise<Program> {
    const known = this.programs[side];
    if (known && sameJson(known.rulebook, rulebook)) return known;
    return (this.programs[side] = compileProgram(rulebook, await hostOf(rulebook)));
  }

  cancel(): void {
    this.epoch++;
  }

  /** The next bytes of the lines of a record type. */
  take(type: string, bytes: Uint8Array): void {
    this.packed.take(type, bytes);
  }

  /** Another set is coming. */
  forget(): void {
    this.cancel();
    this.packed = new PackedRecords();
  }

  /**
   * Figures of this share as they come; false: cancelled or overtaken. It goes on once what it told is shown: on a machine
   * with few processors a page that shows it beside all workers stands still for as long as all take together.
   */
  async run(
    request: DryRunRequest,
    told: (types: readonly TypeImpact[], done: number, all: number) => Promise<void>,
  ): Promise<boolean> {
    const epoch = ++this.epoch;
    const { draft, against, way, now, share, of } = request;
    const after = await this.programOf('after', draft);
    const before = against === 'stored' ? against : await this.programOf('before', against);
    this.share = { share, of };
    const world = this.packed;
    if (epoch !== this.epoch) return false;
    this.runs.clear();
    for (const { recordType, rules } of after.types.values()) {
      const had = before === 'stored' ? 0 : (before.types.get(recordType.key)?.rules.length ?? 0);
      if (rules.length + had === 0 || (request.types && !request.types.includes(recordType.key))) continue;
      this.runs.set(recordType.key, {
        recordType,
        impact: new Impact(recordType, before, after, way, world, now),
      });
    }
    const total = [...this.runs.keys()].reduce((n, type) => n + Math.ceil((world.count(type) - share) / of), 0);
    let done = 0;
    let until = performance.now() + slice;
    let shown = performance.now();
    for (const [type, { impact }] of this.runs)
      for (let i = share; i < world.count(type); i += of) {
        impact.add(world.at(type, i));
        done++;
        if (performance.now() < until) continue;
        if (performance.now() - shown > 250) {
          await told(this.figures(), done, total);
          shown = performance.now();
        }
        await pause();
        if (epoch !== this.epoch) return false;
        until = performance.now() + slice;
      }
    await told(this.figures(), done, total);
    return epoch === this.epoch;
  }

  private figures(): readonly TypeImpact[] {
    return [...this.runs.values()].map(({ recordType, impact }) => ({
      recordType: recordType.key,
      plural: recordType.plural,
      samples: this.packed.count(recordType.key),
      figures: impact.share(),
    }));
  }

  /** Records of a move, each with what becomes of the field; and their places among all samples of the type. */
  moved(type: string, field: string, from: string, to: string, most: number): BehindShare {
    return this.behind(type, field, most, (impact) => impact.movedRecords(field, from, to));
  }

  /** The same of those that are newly stopped with a message. */
  stopped(type: string, message: string, most: number): BehindShare {
    return this.behind(type, '', most, (impact) => impact.stoppedRecords(message));
  }

  private behind(type: string, field: string, most: number, of: (impact: Impact) => readonly number[]): BehindShare {
    const run = this.runs.get(type);
    if (!run) return { records: [], places: [] };
    const places = of(run.impact).map((at) => this.share.share + at * this.share.of);
    return { records: places.slice(0, most).map((p) => run.impact.look(this.packed.at(type, p), field)), places };
  }

  /** What sets these apart from the other samples of the type. */
  trait(type: string, draft: Rulebook, places: readonly number[]): string | undefined {
    const recordType = draft.recordTypes.find((t) => t.key === type);
    if (!recordType || !this.runs.has(type)) return undefined;
    const inside = new Set(places);
    const others: number[] = [];
    for (let i = 0; i < this.packed.count(type); i++) if (!inside.has(i)) others.push(i);
    const [own, rest] = [evenly(places, mostCompared), evenly(others, mostCompared)];
    const records: FoundRecord[] = [...own, ...rest].map((i) => this.packed.at(type, i));
    const writing = writingOf(draft);
    const trait = commonTrait(recordType, records, new Set(own.keys()), writing);
    const looked = writing.number(String(own.length));
    return trait && own.length < places.length ? `of ${looked} looked at, ${trait}` : trait;
  }

  /** Records made up to show where two rulebooks differ. */
  async witnesses(live: Rulebook, draft: Rulebook): Promise<readonly Witness[]> {
    const [before, after] = [await this.programOf('before', live), await this.programOf('after', draft)];
    const work = findWitnesses(before, after);
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
