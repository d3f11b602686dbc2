/**
 * What claims came to, for as long as nothing changes that it hangs on: fields, rules, tables and samples. To look for a
 * record that breaks one takes seconds of a processor, and most edits, of tests say, leave it as it is.
 */
import type { Claim, Rulebook, SampleRecord } from '@rigid-rule/core/document';
import type { ClaimResult } from '@rigid-rule/core/rule-tests';

export interface KnownClaim {
  readonly result: ClaimResult;
  readonly seconds: number;
}

/** Parts are immutable: what is the same object says the same. */
export class ClaimMemory {
  private ground: readonly unknown[] = [];
  private known = new WeakMap<Claim, KnownClaim>();

  /** Told of the rulebook and samples before anything is asked: where something else stands now all is forgotten. */
  standOn(rulebook: Rulebook, among: readonly SampleRecord[]): void {
    const { recordTypes, rules, tables = [], samples: _, tests: __, claims: ___, ...settings } = rulebook;
    const ground = [...Object.values(settings), ...recordTypes, null, ...rules, null, ...tables, null, ...among];
    if (ground.length === this.ground.length && ground.every((part, i) => part === this.ground[i])) return;
    this.ground = ground;
    this.known = new WeakMap();
  }

  of(claim: Claim): KnownClaim | undefined {
    return this.known.get(claim);
  }

  keep(claim: Claim, known: KnownClaim): void {
    this.known.set(claim, known);
  }
}
