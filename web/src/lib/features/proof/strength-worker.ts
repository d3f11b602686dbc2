import type { Rulebook, PartRef, SampleRecord } from '@rigid-rule/core/document';
import type { StrengthWork } from '$lib/workers/strength.ts';
import { RulebookFeed } from '$lib/workers/rulebook-feed.ts';
import { proxy, wrap, type Remote } from 'comlink';

/** A worker and what it was told. */
export class StrengthWorker {
  private readonly worker = new Worker(new URL('../../workers/strength.ts', import.meta.url), { type: 'module' });
  private readonly feed = new RulebookFeed();
  readonly work: Remote<StrengthWork> = wrap<StrengthWork>(this.worker);

  take(rulebook: Rulebook): Promise<void> {
    return this.work.take(this.feed.change(rulebook));
  }

  weighAll(first: readonly PartRef[], told: Parameters<StrengthWork['weighAll']>[1]): Promise<boolean> {
    return this.work.weighAll(first, proxy(told));
  }

  checkClaims(samples: readonly SampleRecord[], told: Parameters<StrengthWork['checkClaims']>[1]): Promise<boolean> {
    return this.work.checkClaims(samples, proxy(told));
  }

  close(): void {
    this.worker.terminate();
  }
}
