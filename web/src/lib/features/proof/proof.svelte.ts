/**
 * How sure the draft is: what its tests notice, what may be proposed, what its claims come to. The work is done in two
 * workers that outlive the page that asked: one goes through the whole draft, one answers questions about a rule.
 */
import { partId, type Claim, type PartRef, type Rulebook, type SampleRecord } from '@rigid-rule/core/document';
import type { ClaimResult, Offer, PartStrength } from '@rigid-rule/core/rule-tests';
import type { StrengthProgress } from '$lib/workers/strength.ts';
import type { StrengthWorker } from './strength-worker.ts';
import { getContext, setContext } from 'svelte';
import { SvelteMap } from 'svelte/reactivity';

/** Loaded when somebody first asks: pages of records never need it. */
const startWorker = async (): Promise<StrengthWorker> => new (await import('./strength-worker.ts')).StrengthWorker();

export type SweepState = 'not begun' | 'running' | 'done' | 'cancelled' | 'failed';

export interface CheckedClaim {
  readonly result: ClaimResult;
  readonly seconds: number;
  /** The condition that was checked: the claim may say another one by now. */
  readonly condition: string;
}

export class Proof {
  private sweeper: StrengthWorker | undefined;
  private asker: StrengthWorker | undefined;
  private asked = 0;
  private toldAsker: Rulebook | undefined;
  private before: Rulebook | undefined;
  /** By identity of the part. */
  readonly strength = new SvelteMap<string, PartStrength>();
  readonly claims = new SvelteMap<string, CheckedClaim>();
  state = $state<SweepState>('not begun');
  progress = $state.raw<StrengthProgress>();

  /** All parts together; undefined while nothing is known. */
  readonly whole = $derived.by(() => {
    if (this.strength.size === 0) return undefined;
    let [caught, planted] = [0, 0];
    for (const p of this.strength.values()) [caught, planted] = [caught + p.caught, planted + p.planted];
    return { caught, planted };
  });

  /** Follows the draft once somebody has asked for its strength; until then nothing is worked out. */
  get follows(): boolean {
    return this.state !== 'not begun';
  }

  /** Whether this is what was swept last. */
  isOf(rulebook: Rulebook): boolean {
    return this.before === rulebook;
  }

  /** Goes through the draft: what changed first. What was under way for the draft before stops. */
  async sweep(
    rulebook: Rulebook,
    wanted: readonly PartRef[] = [],
    samples: readonly SampleRecord[] = [],
  ): Promise<void> {
    const asked = ++this.asked;
    this.state = 'running';
    this.progress = undefined;
    const first = this.before ? [...changedParts(this.before, rulebook), ...wanted] : wanted;
    this.before = rulebook;
    try {
      const sweeper = (this.sweeper ??= await startWorker());
      await sweeper.take(rulebook);
      if (asked !== this.asked) return;
      this.forget(rulebook);
      const complete = await sweeper.weighAll(first, (parts: readonly PartStrength[], progress: StrengthProgress) => {
        if (asked !== this.asked) return;
        for (const p of parts) this.strength.set(partId(p.part), p);
        this.progress = progress;
      });
      if (asked !== this.asked || !complete) return;
      const conditions = new Map((rulebook.claims ?? []).map((c) => [c.key, c.condition]));
      await sweeper.checkClaims(samples, (result: ClaimResult, seconds: number) => {
        if (asked !== this.asked) return;
        this.claims.set(result.claim, { result, seconds, condition: conditions.get(result.claim) ?? '' });
      });
      if (asked === this.asked) this.state = 'done';
    } catch {
      if (asked !== this.asked) return;
      this.state = 'failed';
      // Whatever ended it: who asks again has a new one.
      this.sweeper?.close();
      this.sweeper = undefined;
    }
  }

  /** What is no longer there has no strength. */
  private forget({ rules, tables = [], claims = [] }: Rulebook): void {
    const there = new Set([...rules.map((r) => `rule:${r.key}`), ...tables.map((t) => `table:${t.key}`)]);
    for (const id of [...this.strength.keys()]) if (!there.has(id)) this.strength.delete(id);
    const claimed = new Set(claims.map((c: Claim) => c.key));
    for (const key of [...this.claims.keys()]) if (!claimed.has(key)) this.claims.delete(key);
  }

  async cancel(): Promise<void> {
    this.asked++;
    this.state = 'cancelled';
    await this.sweeper?.cancel();
  }

  /** Proposed tests of a rule, the fewest that bring everything first. */
  async offers(rulebook: Rulebook, rule: string): Promise<readonly Offer[]> {
    try {
      return await (await this.ready(rulebook)).offers(rule);
    } catch (e) {
      this.asker?.close();
      this.asker = this.toldAsker = undefined;
      throw e;
    }
  }

  private async ready(rulebook: Rulebook): Promise<StrengthWorker> {
    const asker = (this.asker ??= await startWorker());
    if (this.toldAsker !== rulebook) await asker.take(rulebook);
    this.toldAsker = rulebook;
    return asker;
  }

  close(): void {
    this.sweeper?.close();
    this.asker?.close();
    this.sweeper = this.asker = undefined;
  }
}

/** Rules and tables that are otherwise than before. */
function changedParts(before: Rulebook, now: Rulebook): readonly PartRef[] {
  const old = new Set<unknown>([...before.rules, ...(before.tables ?? [])]);
  return [
    ...now.rules.filter((r) => !old.has(r)).map(({ key }) => ({ kind: 'rule', key }) as const),
    ...(now.tables ?? []).filter((t) => !old.has(t)).map(({ key }) => ({ kind: 'table', key }) as const),
  ];
}

const key = Symbol('proof');
export const provideProof = (proof: Proof): Proof => setContext(key, proof);
export const useProof = (): Proof => getContext<Proof>(key);
