/** The two rulebooks of a release page, loaded once, and the workers that try them. */
import { ask, whyNot } from '$lib/network.ts';
import type { Rulebook } from '@rigid-rule/core/document';
import { DryRun } from '../proof/dry-run.svelte.ts';

export interface Compared {
  readonly live: Rulebook;
  readonly draft: Rulebook;
}

export class Comparison {
  readonly run = new DryRun();
  private loading: Promise<Compared> | undefined;

  /** @throws where the server does not give them. */
  books(): Promise<Compared> {
    return (this.loading ??= (async () => {
      const answer = await ask('/api/release/rulebooks');
      if (!answer.ok) throw await whyNot(answer, 'The rulebooks could not be loaded.');
      return (await answer.json()) as Compared;
    })());
  }

  close(): void {
    this.run.close();
  }
}
