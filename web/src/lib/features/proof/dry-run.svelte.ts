/** A dry run in two workers: begun, followed, cancelled, asked for the records behind a number. */
import type { Rulebook } from '@rigid-rule/core/document';
import type { ImpactFigures, ImpactWay, MovedRecord, Witness } from '@rigid-rule/core/rule-tests';
import type { DryRunWork, TypeImpact } from '$lib/workers/dry-run.ts';
import type { Remote } from 'comlink';
import { getContext, setContext } from 'svelte';

export type DryRunState = 'not begun' | 'running' | 'done' | 'cancelled' | 'failed';

export interface Asked {
  readonly draft: Rulebook;
  readonly against: Rulebook | 'stored';
  readonly way: ImpactWay;
  readonly set: number | undefined;
  readonly now: string;
  readonly types?: readonly string[];
}

/** Two share the samples: more would each hold all of them. */
const workers = 2;

export class DryRun {
  private hands: { worker: Worker; work: Remote<DryRunWork> }[] = [];
  private asked = 0;
  private request: Asked | undefined;
  /** What was asked for, but for the clock: asked again, it is found as it is. */
  private question = '';
  /** What is compared, and how: kept while the areas come and go. */
  way = $state<ImpactWay>('backfill');
  /** `live`, `stored`, or the number of a release. */
  against = $state('live');
  /** Key of a rule that is switched off in what is tried. */
  without = $state('');
  state = $state<DryRunState>('not begun');
  types = $state.raw<readonly TypeImpact[]>([]);
  done = $state(0);
  all = $state(0);
  /** Milliseconds that it took, or has taken so far. */
  spent = $state(0);
  problem = $state<string>();

  /** `anew`: although the same was asked before. */
  async run(request: Asked, anew = false): Promise<void> {
    const { now: _, ...rest } = request;
    const question = JSON.stringify(rest);
    if (!anew && question === this.question && (this.state === 'running' || this.state === 'done')) return;
    this.question = question;
    const asked = ++this.asked;
    this.request = plain(request);
    const given = this.request;
    this.state = 'running';
    this.problem = undefined;
    this.types = [];
    [this.done, this.all, this.spent] = [0, 0, 0];
    const began = performance.now();
    const counts = Array.from({ length: workers }, () => [0, 0] as const) as (readonly [number, number])[];
    const heaps: (readonly TypeImpact[])[] = [];
    try {
      while (this.hands.length < workers) this.hands.push(await startWorker());
      const [{ proxy }, { sumOfFigures }] = await Promise.all([
        import('comlink'),
        import('@rigid-rule/core/rule-tests'),
      ]);
      const complete = await Promise.all(
        this.hands.map(({ work }, share) =>
          work.run(
            { ...given, share, of: workers },
            proxy((types: readonly TypeImpact[], done: number, all: number) => {
              if (asked !== this.asked) return;
              heaps[share] = types;
              counts[share] = [done, all];
              this.types = together(
                heaps.filter((h) => h !== undefined),
                sumOfFigures,
              );
              this.done = counts.reduce((n, [d]) => n + d, 0);
              this.all = counts.reduce((n, [, a]) => n + a, 0);
              this.spent = performance.now() - began;
            }),
          ),
        ),
      );
      if (asked === this.asked && complete.every((c) => c)) this.state = 'done';
    } catch {
      if (asked !== this.asked) return;
      this.state = 'failed';
      this.problem = 'The dry run failed: the samples could not be loaded, or there are too many of them.';
    }
  }

  cancel(): void {
    this.asked++;
    this.state = 'cancelled';
    for (const { work } of this.hands) void work.cancel();
  }

  /** The records of a move or of a message, the first of them, and what they have in common. */
  async behind(
    type: string,
    of: { readonly field: string; readonly from: string; readonly to: string } | { readonly message: string },
    most: number,
  ): Promise<{ readonly records: readonly MovedRecord[]; readonly trait: string | undefined }> {
    const found = await Promise.all(
      this.hands.map(({ work }) =>
        'message' in of ? work.stopped(type, of.message, most) : work.moved(type, of.field, of.from, of.to, most),
      ),
    );
    const records = found.flatMap((f) => f.records).sort((a, b) => Number(a.id) - Number(b.id));
    const [first] = this.hands;
    const trait =
      first && this.request
        ? await first.work.trait(
            type,
            this.request.draft,
            found.flatMap((f) => f.places),
          )
        : undefined;
    return { records: records.slice(0, most), trait };
  }

  async witnesses(live: Rulebook, draft: Rulebook): Promise<readonly Witness[]> {
    if (this.hands.length < 1) this.hands.push(await startWorker());
    return this.hands[0]!.work.witnesses(plain(live), plain(draft));
  }

  close(): void {
    this.asked++;
    this.question = '';
    for (const { worker } of this.hands) worker.terminate();
    this.hands = [];
  }
}

/** What talks with workers is loaded when somebody first asks: pages of records never need it. */
async function startWorker() {
  const { wrap } = await import('comlink');
  const worker = new Worker(new URL('../../workers/dry-run.ts', import.meta.url), { type: 'module' });
  return { worker, work: wrap<DryRunWork>(worker) };
}

/** The interface may hold parts of a rulebook in ways that cannot be cloned. */
const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

function together(
  heaps: readonly (readonly TypeImpact[])[],
  sum: (figures: readonly ImpactFigures[]) => ImpactFigures,
): readonly TypeImpact[] {
  const [first = []] = heaps;
  return first.map((t) => ({
    ...t,
    figures: sum(heaps.flatMap((h) => h.find((x) => x.recordType === t.recordType)?.figures ?? [])),
  }));
}

const key = Symbol('dry run');
export const provideDryRun = (run: DryRun): DryRun => setContext(key, run);
export const useDryRun = (): DryRun => getContext<DryRun>(key);
