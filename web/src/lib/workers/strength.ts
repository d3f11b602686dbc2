/**
 * Plants faults in the draft, part by part, and says what the tests notice; proposes tests; looks for what breaks claims.
 * All of it in slices, so that a call that comes in between is answered soon and a draft that was overtaken is left.
 */
import { compileProgram, recompileProgram, type Program } from '@rigid-rule/core/compile';
import { canonicalJson, partId, type PartRef, type SampleRecord } from '@rigid-rule/core/document';
import {
  marksOf,
  offersFor,
  runTests,
  searchClaim,
  StrengthMeter,
  type ClaimResult,
  type Offer,
  type PartStrength,
  type Survivor,
} from '@rigid-rule/core/rule-tests';
import { expose } from 'comlink';
import { hostOf } from '../host-loading.ts';
import { ClaimMemory } from './claim-memory.ts';
import { RulebookMirror, type RulebookChange } from './rulebook-feed.ts';

export interface StrengthProgress {
  readonly done: number;
  readonly all: number;
  /** Milliseconds since it began. */
  readonly spent: number;
}

/** Milliseconds of work between two looks at what came in. */
const slice = 40;
/** Milliseconds for one claim. */
const claimTime = 4000;

const pause = () => new Promise<void>((resolve) => setTimeout(resolve));

class StrengthWork {
  private readonly mirror = new RulebookMirror();
  private program: Program | undefined;
  private meter: StrengthMeter | undefined;
  private epoch = 0;
  private readonly claims = new ClaimMemory();
  /** What is known of each part, with what it hangs on. */
  private readonly known = new Map<string, { readonly on: string; readonly strength: PartStrength }>();

  /** Takes the draft as it is now; what was under way for the draft before stops. */
  async take(change: RulebookChange): Promise<void> {
    const epoch = ++this.epoch;
    const rulebook = this.mirror.take(change);
    const host = await hostOf(rulebook);
    if (epoch !== this.epoch) return;
    const sameHost = this.program && Object.keys(host).join() === Object.keys(this.program.host).join();
    this.program = this.program
      ? recompileProgram(this.program, rulebook, sameHost ? this.program.host : host)
      : compileProgram(rulebook, host);
    this.meter = undefined;
  }

  cancel(): void {
    this.epoch++;
  }

  private get ready(): { program: Program; meter: StrengthMeter } | undefined {
    if (!this.program) return undefined;
    this.meter ??= new StrengthMeter(this.program, this.program.rulebook.tests ?? []);
    return { program: this.program, meter: this.meter };
  }

  /**
   * Weighs every part of which something changed, those in `first` before the others. `told` is called with each part as
   * it is known, at once for those that did not change. False: overtaken or cancelled.
   */
  async weighAll(
    first: readonly PartRef[],
    told: (parts: readonly PartStrength[], progress: StrengthProgress) => void,
  ): Promise<boolean> {
    const { epoch, ready } = this;
    if (!ready) return false;
    const began = performance.now();
    const { meter } = ready;
    const parts = meter.parts();
    const early = new Set(first.map(partId));
    const same: PartStrength[] = [];
    const open: { part: PartRef; on: string }[] = [];
    const texts = new Map<string, string>();
    for (const part of parts) {
      const on = this.hangsOn(part, texts);
      const known = this.known.get(partId(part));
      if (known?.on === on) same.push(known.strength);
      else open.push({ part, on });
    }
    open.sort((a, b) => Number(early.has(partId(b.part))) - Number(early.has(partId(a.part))));
    let done = same.length;
    const progress = () => ({ done, all: parts.length, spent: performance.now() - began });
    told(same.map(plain), progress());
    for (const { part, on } of open) {
      const strength = await this.inSlices(meter.weigh(part), epoch);
      if (!strength) return false;
      this.known.set(partId(part), { on, strength });
      done++;
      told([plain(strength)], progress());
    }
    return true;
  }

  private async inSlices<T>(work: Generator<unknown, T>, epoch: number): Promise<T | undefined> {
    let until = performance.now() + slice;
    for (;;) {
      const step = work.next();
      if (step.done) return step.value;
      if (performance.now() < until) continue;
      await pause();
      if (epoch !== this.epoch) return undefined;
      until = performance.now() + slice;
    }
  }

  /** All that what a part gives may hang on: its record types' fields, rules, tables and tests. */
  private hangsOn(part: PartRef, texts: Map<string, string>): string {
    const { rulebook, types } = this.program!;
    const own = [...types.values()].filter((t) =>
      t.rules.some((r) => (part.kind === 'rule' ? r.rule.key === part.key : r.tables.has(part.key))),
    );
    const keys = new Set(own.map((t) => t.recordType.key));
    // Parts of the same types hang on the same; a table that none of their rules reads is no part.
    const known = texts.get([...keys].join());
    if (known !== undefined) return known;
    const tables = new Set(own.flatMap((t) => t.rules.flatMap((r) => [...r.tables])));
    const text = canonicalJson([
      rulebook.recordTypes,
      rulebook.rules.filter((r) => keys.has(r.recordType)),
      (rulebook.tests ?? []).filter((t) => keys.has(t.recordType)),
      (rulebook.tables ?? []).filter((t) => tables.has(t.key)),
      rulebook.zone,
    ]);
    texts.set([...keys].join(), text);
    return text;
  }

  /** Proposed tests of a rule, the fewest that bring everything first. */
  offers(ruleKey: string): readonly Offer[] {
    const { program, meter } = this.ready!;
    for (const type of program.types.values()) {
      const rule = type.rules.find((r) => r.rule.key === ruleKey);
      if (!rule?.compiles || !rule.rule.on) continue;
      const tests = program.rulebook.tests ?? [];
      return offersFor(rule, type, meter, this.seen(), new Set(program.rulebook.refused ?? []), tests);
    }
    return [];
  }

  private seen(): ReadonlySet<string> {
    const { program } = this.ready!;
    const results = runTests(program, program.rulebook.tests ?? []);
    return new Set(results.flatMap((r) => [...marksOf(r.settlement?.trace ?? [], r.test.entryPoint)]));
  }

  /** Looks for what breaks the claims, one after the other; at once for those of which nothing changed. False: overtaken or cancelled. */
  async checkClaims(
    samples: readonly SampleRecord[],
    told: (result: ClaimResult, seconds: number) => void,
  ): Promise<boolean> {
    const { epoch, program } = this;
    if (!program) return false;
    this.claims.standOn(program.rulebook, samples);
    for (const claim of program.rulebook.claims ?? []) {
      const known = this.claims.of(claim);
      if (known) {
        told(known.result, known.seconds);
        continue;
      }
      const began = performance.now();
      const timeIsUp = () => performance.now() - began > claimTime;
      const result = await this.inSlices(searchClaim(program, claim, { samples, timeIsUp }), epoch);
      if (!result) return false;
      const seconds = (performance.now() - began) / 1000;
      this.claims.keep(claim, { result, seconds });
      told(result, seconds);
    }
    return true;
  }
}

/** What goes over to the page: the rulebooks with faults in them stay here. */
const plain = (p: PartStrength): PartStrength => ({
  ...p,
  survivors: p.survivors.map(({ rulebook: _, ...rest }): Survivor => rest),
});

export type { StrengthWork };
expose(new StrengthWork());
