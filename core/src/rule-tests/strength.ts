/**
 * How many small planted faults the tests notice: one fault at a time, part by part, so that a part of which nothing
 * changed need not be weighed again.
 */
import { recompileProgram } from '../compile/program.ts';
import type { CompiledRule, Program, TypeProgram } from '../compile/compiled.ts';
import type { SettleOptions } from '../settle/settlement.ts';
import { canonicalJson } from '../document/canonical.ts';
import type { Rulebook, RuleTest } from '../document/document.ts';
import { partId, type PartRef } from '../document/parts.ts';
import { cellId, cellsOf } from './coverage.ts';
import { allLines, linesOf } from './family.ts';
import { equalByReasoning } from './equal-mutants.ts';
import { randomInputs } from './inputs.ts';
import { mutableParts, mutantsOfRule, mutantsOfTable, type Mutant, type MutantKind } from './mutants.ts';
import { actedVerdicts, failsTest, runTest, settleTest } from './run.ts';
import { sampled } from './sampled.ts';
import { suggestFor, type Suggestion } from './suggest.ts';
import { inOneGo } from '../values/steps.ts';

/** A fault that no test notices. */
export interface Survivor {
  /** The rule or table. */
  readonly part: PartRef;
  readonly kind: MutantKind;
  readonly text: string;
  /** A test that would notice it. */
  readonly test: RuleTest;
  /** The rulebook with the fault in it: where faults are gathered from several machines it stays behind. */
  readonly rulebook?: Rulebook;
  /** Key of the entry point that it takes away. */
  readonly entryPoint?: string;
}

/** A fault of which nothing is known: no input that was tried tells it from the rules as they are. */
export interface Undecided {
  readonly part: PartRef;
  readonly kind: MutantKind;
  readonly text: string;
}

export interface PartStrength {
  readonly part: PartRef;
  /** Faults that were planted and that some test notices. */
  readonly caught: number;
  /** Faults that were planted and that can be noticed: the whole of which `caught` is a share. */
  readonly planted: number;
  readonly survivors: readonly Survivor[];
  /** Faults that change nothing, by reasoning on regions: outside the score. */
  readonly same: number;
  /** Outside the score as well. */
  readonly undecided: readonly Undecided[];
  /** Faults that there are, of which those planted are a sample. */
  readonly possible: number;
}

export interface Strength extends Omit<PartStrength, 'part'> {
  readonly parts: readonly PartStrength[];
}

export interface StrengthOptions extends SettleOptions {
  /** Faults planted at most in one rule or table: beyond it a sample of them, the same for the same seed. */
  readonly most?: number;
  readonly seed?: number;
  /** Inputs by chance that are tried on a fault that nothing else tells apart. */
  readonly effort?: number;
}

const usualMost = 200;
const usualEffort = 300;

interface BaseLine {
  readonly test: RuleTest;
  /** Keys of the rules that acted in it. */
  readonly acted: ReadonlySet<string>;
}

/** A program with its tests, ready to have faults planted. */
export class StrengthMeter {
  readonly program: Program;
  readonly options: SettleOptions;
  private readonly limits: Required<Pick<StrengthOptions, 'most' | 'seed' | 'effort'>>;
  /** Cases that hold, by record type: one that fails already notices nothing. */
  private readonly lines = new Map<string, BaseLine[]>();
  private readonly suggested = new Map<string, readonly Suggestion[]>();
  private readonly weighed = new Map<string, PartStrength>();
  private readonly prints = new WeakMap<RuleTest, string>();
  /** Programs with faults in them that no test notices. */
  private readonly compiled = new WeakMap<Rulebook, Program>();

  constructor(program: Program, tests: readonly RuleTest[], options: StrengthOptions = {}) {
    const { most = usualMost, seed = 0, effort = usualEffort, ...settling } = options;
    this.program = program;
    this.limits = { most, seed, effort };
    this.options = settling;
    for (const { test, of } of allLines(program, tests)) {
      const { failures, settlement } = runTest(program, test, settling, of);
      if (failures.length > 0 || !settlement) continue;
      const acted = settlement.trace.filter((t) => actedVerdicts.has(t.verdict)).map((t) => t.rule);
      const own = this.lines.get(test.recordType) ?? [];
      this.lines.set(test.recordType, own);
      own.push({ test, acted: new Set(acted) });
    }
  }

  parts(): readonly PartRef[] {
    return mutableParts(this.program);
  }

  /** One rule or table. Yields between faults, for who has to do other things in between. */
  *weigh(part: PartRef): Generator<void, PartStrength> {
    const { rulebook, tables } = this.program;
    const { most, seed } = this.limits;
    const subjects = this.subjectsOf(part);
    const table = part.kind === 'table' ? tables.get(part.key)?.table : undefined;
    const all = table
      ? mutantsOfTable(table, rulebook, seed)
      : subjects.slice(0, 1).flatMap(({ rule, type }) => mutantsOfRule(rule, type, rulebook));
    let [caught, same] = [0, 0];
    const survivors: Survivor[] = [];
    const undecided: Undecided[] = [];
    const catchers: RuleTest[] = [];
    for (const mutant of sampled(all, most, seed)) {
      yield;
      const faulty = recompileProgram(this.program, mutant.rulebook);
      // A fault that no longer compiles would be refused before any test runs: no fault at all.
      if (faulty.broken.length > this.program.broken.length) continue;
      const { kind, text, entryPoint } = mutant;
      const told = { part, kind, text };
      if (this.isCaught(faulty, subjects)) caught++;
      else if (equalByReasoning(this.program, mutant, subjects[0]?.type)) same++;
      else {
        const test = this.catcherOf(faulty, mutant, subjects, catchers);
        if (!test) undecided.push(told);
        else
          survivors.push({
            ...told,
            test,
            rulebook: mutant.rulebook,
            ...(entryPoint === undefined ? {} : { entryPoint }),
          });
        if (test && !catchers.includes(test)) catchers.push(test);
      }
    }
    const possible = all.length;
    return { part, caught, planted: caught + survivors.length, survivors, same, undecided, possible };
  }

  /** The rules that a fault in this part is a fault of: the rule itself, or those that read the table. */
  private subjectsOf(part: PartRef): { rule: CompiledRule; type: TypeProgram }[] {
    const is = (r: CompiledRule): boolean => (part.kind === 'rule' ? r.rule.key === part.key : r.tables.has(part.key));
    return [...this.program.types.values()].flatMap((type) =>
      type.rules.filter((r) => r.compiles && r.rule.on && is(r)).map((rule) => ({ rule, type })),
    );
  }

  /** Tests in which the rule acts come first: they are likely to notice. */
  private isCaught(faulty: Program, subjects: readonly { rule: CompiledRule; type: TypeProgram }[]): boolean {
    for (const key of new Set(subjects.map((s) => s.type.recordType.key))) {
      const lines = this.lines.get(key) ?? [];
      const acts = (line: BaseLine): boolean => subjects.some((s) => line.acted.has(s.rule.rule.key));
      const notices = (line: BaseLine): boolean => failsTest(faulty, line.test, this.options);
      if (lines.some((l) => acts(l) && notices(l)) || lines.some((l) => !acts(l) && notices(l))) return true;
    }
    return false;
  }

  private catcherOf(
    faulty: Program,
    { text, entryPoint }: Mutant,
    subjects: readonly { rule: CompiledRule; type: TypeProgram }[],
    before: readonly RuleTest[],
  ): RuleTest | undefined {
    const tells = (test: RuleTest): boolean => this.tells(faulty, test);
    // What has told a sibling may tell this one: then one test is enough for both.
    const known = before.find(tells);
    if (known) return known;
    // A way in that is taken away shows wherever the rule acts, once the record comes in that way.
    if (entryPoint !== undefined)
      for (const { rule, type } of subjects)
        for (const { test, acted } of this.lines.get(type.recordType.key) ?? []) {
          if (!acted.has(rule.rule.key)) continue;
          const [line] = linesOf({ ...test, family: { entryPoints: [entryPoint] } }, type);
          if (line && tells(line.test)) return line.test;
        }
    for (const { rule, type } of subjects) {
      const found = this.suggestionsFor(rule, type).find((s) => tells(s.test))?.test;
      if (found) return found;
    }
    for (const { rule, type } of subjects) {
      const own = this.lines.get(type.recordType.key) ?? [];
      const near = own.find((l) => tells(l.test));
      if (near) return near.test;
      let left = this.limits.effort;
      for (const input of randomInputs(rule, type, this.program, this.testsOf(type), this.limits.seed + text.length)) {
        if (left-- <= 0) break;
        if (tells(input)) return input;
      }
    }
    return undefined;
  }

  suggestionsFor(rule: CompiledRule, type: TypeProgram): readonly Suggestion[] {
    const { key } = rule.rule;
    const known = this.suggested.get(key) ?? suggestFor(rule, type, this.program, this.options, this.testsOf(type));
    this.suggested.set(key, known);
    return known;
  }

  /** The strength of a part, weighed at most once. */
  strengthOf(part: PartRef): PartStrength {
    const known = this.weighed.get(partId(part)) ?? inOneGo(this.weigh(part));
    this.weighed.set(partId(part), known);
    return known;
  }

  /** The program with the fault of a survivor in it. */
  faulty({ rulebook }: Survivor): Program | undefined {
    if (!rulebook) return undefined;
    const known = this.compiled.get(rulebook) ?? recompileProgram(this.program, rulebook);
    this.compiled.set(rulebook, known);
    return known;
  }

  /** Cells of a rule by the mark that they leave, with the rule's key in front. */
  cellsOf(r: CompiledRule, type: TypeProgram): ReadonlyMap<string, string> {
    return new Map(cellsOf(r, type, this.program).map((c) => [cellId(r.rule.key, c.mark), c.text]));
  }

  /** Whether it is one of the tests, or a case of one. */
  isKnown(test: RuleTest): boolean {
    return this.lines.get(test.recordType)?.some((l) => l.test === test) ?? false;
  }

  private testsOf(type: TypeProgram): readonly RuleTest[] {
    return (this.lines.get(type.recordType.key) ?? []).map((l) => l.test);
  }

  private tells(faulty: Program, test: RuleTest): boolean {
    let print = this.prints.get(test);
    if (print === undefined) this.prints.set(test, (print = fingerprint(this.program, test, this.options)));
    return fingerprint(faulty, test, this.options) !== print;
  }
}

/** All that a test could look at. */
export function fingerprint(program: Program, test: RuleTest, options: SettleOptions = {}): string {
  const { data, messages, notifications, states, verdict, writes } = settleTest(program, test, {
    ...options,
    trace: false,
  });
  // Fields come in the order of the record type, whatever fault is planted.
  const fields = JSON.stringify(data);
  const rest = canonicalJson([
    messages.map((m) => [m.field, m.severity, m.text]),
    notifications,
    writes.map((w) => [w.recordType, w.id, w.field, w.value]),
    states,
    verdict,
  ]);
  return `${fields}${rest}`;
}

export function sumOfStrength(parts: readonly PartStrength[]): Strength {
  const sum = (of: (p: PartStrength) => number): number => parts.reduce((n, p) => n + of(p), 0);
  return {
    parts,
    caught: sum((p) => p.caught),
    planted: sum((p) => p.planted),
    survivors: parts.flatMap((p) => p.survivors),
    same: sum((p) => p.same),
    undecided: parts.flatMap((p) => p.undecided),
    possible: sum((p) => p.possible),
  };
}

export function strengthOf(
  program: Program,
  tests: readonly RuleTest[],
  options: StrengthOptions = {},
  progress: (done: number, all: number) => void = () => undefined,
): Strength {
  const meter = new StrengthMeter(program, tests, options);
  const parts = meter.parts();
  return sumOfStrength(
    parts.map((part, i) => {
      progress(i, parts.length);
      return meter.strengthOf(part);
    }),
  );
}
