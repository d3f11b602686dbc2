import type { Rulebook, PartRef, SampleRecord } from '@rigid-rule/core/document';
import type { Offer } from '@rigid-rule/core/rule-tests';
import type { StrengthWork } from '$lib/workers/strength.ts';
import { untilItEnds } from '$lib/workers/worker-end.ts';
import { RulebookFeed } from '$lib/workers/rulebook-feed.ts';
import { proxy, wrap, type Remote } from 'comlink';

/** A worker and what it was told. */
export class StrengthWorker {
  private readonly worker = new Worker(new URL('../../workers/strength.ts', import.meta.url), { type: 'module' });
  private readonly alive = untilItEnds(this.worker);
  private readonly feed = new RulebookFeed();
  private readonly work: Remote<StrengthWork> = wrap<StrengthWork>(this.worker);

  take(rulebook: Rulebook): Promise<void> {
    return this.alive(this.work.take(this.feed.change(rulebook)));
  }

  weighAll(first: readonly PartRef[], told: Parameters<StrengthWork['weighAll']>[1]): Promise<boolean> {
    return this.alive(this.work.weighAll(first, proxy(told)));
  }

  checkClaims(samples: readonly SampleRecord[], told: Parameters<StrengthWork['checkClaims']>[1]): Promise<boolean> {
    return this.alive(this.work.checkClaims(samples, proxy(told)));
  }

  offers(rule: string): Promise<readonly Offer[]> {
    return this.alive(this.work.offers(rule));
  }

  cancel(): Promise<void> {
    return this.alive(this.work.cancel());
  }

  close(): void {
    this.worker.terminate();
  }
}
