/** Which tests a change of the rulebook can touch: the others give what they gave. */
import type { CompiledRule, Program, TypeProgram } from '../compile/compiled.ts';
import type { SettleOptions } from '../settle/settlement.ts';
import type { Rule, RuleTest } from '../document/document.ts';
import { sameJson } from '../document/canonical.ts';
import { linesOf } from './family.ts';
import { idleVerdicts, runTest, type TestResult } from './run.ts';

/** Runs the tests of a rulebook again and again as it changes, each only when something that it meets has changed. */
export class TestRunner {
  private program: Program | undefined;
  private readonly known = new Map<string, { readonly test: RuleTest; readonly results: readonly TestResult[] }>();
  /** Cases run the last time, the others being as they were. */
  lastRun = 0;

  run(program: Program, tests: readonly RuleTest[], options: SettleOptions = {}): TestResult[] {
    const changes = new Map<string, TypeChange>();
    for (const key of program.types.keys()) changes.set(key, changeOf(key, this.program, program));
    this.lastRun = 0;
    const keys = new Set<string>();
    const found = tests.flatMap((test) => {
      keys.add(test.key);
      const type = program.types.get(test.recordType);
      const known = this.known.get(test.key);
      const change = changes.get(test.recordType);
      const lines =
        known && (known.test === test || sameJson(known.test, test)) && type && change && change !== 'all'
          ? known.results.map((r) => (touches(r, change, type) ? this.once(program, r.test, r.of, options) : r))
          : linesOf(test, type).map((line) => this.once(program, line.test, line.of, options));
      this.known.set(test.key, { test, results: lines });
      return lines;
    });
    for (const key of [...this.known.keys()]) if (!keys.has(key)) this.known.delete(key);
    this.program = program;
    return found;
  }

  private once(program: Program, test: RuleTest, of: string, options: SettleOptions): TestResult {
    this.lastRun++;
    return runTest(program, test, options, of);
  }
}

interface RuleChange {
  readonly key: string;
  readonly was: CompiledRule | undefined;
  /** As it is now; undefined where it is gone. */
  readonly now: CompiledRule | undefined;
}

/** Everything of a type may be otherwise, or just these rules. */
type TypeChange = 'all' | readonly RuleChange[];

function changeOf(key: string, before: Program | undefined, now: Program): TypeChange {
  const [a, b] = [before?.types.get(key), now.types.get(key)];
  if (!before || !a || !b || before.host !== now.host) return 'all';
  // Related records are read and coerced by their types, users by the one that they are linked to.
  if (before.rulebook.recordTypes !== now.rulebook.recordTypes && !sameTypes(before, now)) return 'all';
  if (before.rulebook.zone !== now.rulebook.zone || before.rulebook.currency !== now.rulebook.currency) return 'all';
  if (a.scope !== b.scope) return 'all';
  const old = new Map(a.rules.map((r) => [r.rule.key, r]));
  const changed: RuleChange[] = [];
  for (const r of b.rules) {
    const was = old.get(r.rule.key);
    if (!was || was.rule !== r.rule || [...r.tables].some((t) => tableOf(before, t) !== tableOf(now, t)))
      changed.push({ key: r.rule.key, was, now: r });
  }
  const present = new Set(b.rules.map((r) => r.rule.key));
  for (const [rule, was] of old) if (!present.has(rule)) changed.push({ key: rule, was, now: undefined });
  const without = new Set(changed.map((c) => c.key));
  const order = (t: TypeProgram): string =>
    t.rules.flatMap((r) => (without.has(r.rule.key) ? [] : [`${r.rule.key} ${r.circle >= 0 ? 'circle' : ''}`])).join();
  return order(a) === order(b) ? changed : 'all';
}

const tableOf = (p: Program, key: string): unknown => p.tables.get(key)?.table;

const sameTypes = (a: Program, b: Program): boolean =>
  a.rulebook.recordTypes.length === b.rulebook.recordTypes.length &&
  a.rulebook.recordTypes.every((t, i) => t === b.rulebook.recordTypes[i]);

/** Whether a changed rule did something in a case, or may do something now. */
function touches({ settlement, test }: TestResult, changes: readonly RuleChange[], type: TypeProgram): boolean {
  if (!settlement) return true;
  const met = new Set([...Object.keys(test.sent), ...Object.keys(test.before?.data ?? {})]);
  for (const entry of settlement.trace) for (const o of entry.outcomes) met.add(o.field);
  for (const { field } of settlement.changes) met.add(field);
  return changes.some(({ key, was, now }) => {
    const entry = settlement.trace.find((t) => t.rule === key);
    if ((entry && !idleVerdicts.has(entry.verdict)) || (was && actsUnwoken(was))) return true;
    if (test.expect.ran?.includes(key) || test.expect.didNotRun?.includes(key)) return true;
    if (settlement.messages.some((m) => m.rule === key)) return true;
    return now !== undefined && mayAct(now, now.rule, test, met, type);
  });
}

/** What constrains fields does so whether or not it was woken; so does what locks them; circles go round by themselves. */
const actsUnwoken = (r: CompiledRule): boolean =>
  r.rule.on && (r.fieldConstraints !== undefined || r.circle >= 0 || r.rule.winner === 'locked');

function mayAct(r: CompiledRule, rule: Rule, test: RuleTest, met: ReadonlySet<string>, type: TypeProgram): boolean {
  if (!rule.on || !r.compiles) return false;
  if (test.woken?.includes(rule.key)) return true;
  if (actsUnwoken(r)) return true;
  if (!rule.moments.includes(test.moment) || !rule.entryPoints.includes(test.entryPoint)) return false;
  if (rule.repeat === 'every' || r.confines.length > 0 || (test.before === null && r.onNewRecord)) return true;
  return r.wakes.some((slot) => met.has(type.slots[slot]!.field.key));
}
