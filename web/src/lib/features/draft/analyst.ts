/** Has the rules looked through as a whole in a worker; an answer that was overtaken is dropped. */
import type { Rulebook } from '@rigid-rule/core/document';
import type { FindingsAnswer, FindingsRequest } from '$lib/workers/findings.ts';
import { RulebookFeed } from '$lib/workers/rulebook-feed.ts';

export class Analyst {
  private worker: Worker | undefined;
  private feed = new RulebookFeed();
  private asked = 0;
  private latest: Rulebook | undefined;
  /** Workers that failed in a row: a third one would fail as well. */
  private failed = 0;
  private readonly answer: (answer: FindingsAnswer) => void;

  /** @param gaveUp Called once a worker after another has failed. */
  constructor(
    answer: (answer: FindingsAnswer) => void,
    private readonly gaveUp: () => void,
  ) {
    this.answer = answer;
  }

  analyse(rulebook: Rulebook): void {
    this.latest = rulebook;
    this.worker ??= this.startWorker();
    const change = this.feed.change(rulebook);
    this.worker.postMessage({ id: ++this.asked, change } satisfies FindingsRequest);
  }

  private startWorker(): Worker {
    const worker = new Worker(new URL('../../workers/findings.ts', import.meta.url), { type: 'module' });
    worker.addEventListener('message', ({ data }: MessageEvent<FindingsAnswer>) => {
      this.failed = 0;
      if (data.id === this.asked) this.answer(data);
    });
    worker.addEventListener('error', () => {
      if (worker !== this.worker) return;
      this.close();
      if (++this.failed >= 2) this.gaveUp();
      else if (this.latest) this.analyse(this.latest);
    });
    return worker;
  }

  close(): void {
    this.worker?.terminate();
    this.worker = undefined;
    this.feed = new RulebookFeed();
  }
}
