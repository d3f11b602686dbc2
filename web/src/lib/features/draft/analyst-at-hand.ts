/** The analyst, loaded when it is first needed; where it cannot be had, or gives up, it is asked for again after a while. */
import type { Rulebook } from '@rigid-rule/core/document';
import type { FindingsAnswer } from '$lib/workers/findings.ts';
import type { Analyst } from './analyst.ts';

/** Milliseconds until it is asked for again, twice as many each time it is in vain. */
const [patience, longest] = [3_000, 300_000];

type Load = (answer: (a: FindingsAnswer) => void, gaveUp: () => void) => Promise<Pick<Analyst, 'analyse' | 'close'>>;

const loadAnalyst: Load = async (answer, gaveUp) => new (await import('./analyst.ts')).Analyst(answer, gaveUp);

export class AnalystAtHand {
  private analyst: ReturnType<Load> | undefined;
  private latest: Rulebook | undefined;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private inVain = 0;

  /** @param waits Told whether what is asked has to wait for the analyst to be had again. */
  constructor(
    private readonly answer: (answer: FindingsAnswer) => void,
    private readonly waits: (waits: boolean) => void,
    private readonly load: Load = loadAnalyst,
  ) {}

  analyse(rulebook: Rulebook): void {
    this.latest = rulebook;
    clearTimeout(this.timer);
    const analyst = (this.analyst ??= this.load(
      (a) => this.take(a),
      () => this.later(analyst),
    ));
    analyst.then(
      (a) => this.analyst === analyst && this.latest === rulebook && a.analyse(rulebook),
      () => this.later(analyst),
    );
  }

  private take(answer: FindingsAnswer): void {
    this.inVain = 0;
    this.waits(false);
    this.answer(answer);
  }

  private later(of: ReturnType<Load>): void {
    if (this.analyst !== of) return;
    this.analyst = undefined;
    this.waits(true);
    const pause = Math.min(patience * 2 ** this.inVain++, longest);
    this.timer = setTimeout(() => this.latest && this.analyse(this.latest), pause);
  }

  /** Ends what runs; whoever asks again begins anew. */
  close(): void {
    clearTimeout(this.timer);
    this.latest = undefined;
    void this.analyst?.then(
      (a) => a.close(),
      () => undefined,
    );
    this.analyst = undefined;
  }
}
