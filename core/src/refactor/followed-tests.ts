/**
 * What tests expect in words follows a renaming: messages and values that rules make of names, and what rules did when the
 * tests were accepted.
 */
import type { Program, TypeProgram } from '../compile/compiled.ts';
import { canonicalJson } from '../document/canonical.ts';
import type { Expectation, RuleTest, Stored } from '../document/document.ts';
import { linesOf } from '../rule-tests/family.ts';
import { acceptedSteps, runTest } from '../rule-tests/run.ts';
import type { Settlement } from '../settle/settlement.ts';

/** A case that held: what came out under the former name, and under the new one. */
interface Came {
  readonly was: Settlement;
  readonly is: Settlement;
}

/**
 * The tests of the renamed rulebook, each that held before the renaming expecting what comes out after it.
 * @param before The rulebook under the former name, compiled.
 * @param after The renamed one, compiled, whose tests are as they were but for names of options.
 */
export function followedTests(before: Program, after: Program, former: string): readonly RuleTest[] {
  const { tests: own = [] } = after.rulebook;
  const old = new Map(before.rulebook.tests?.map((t) => [t.key, t]));
  return own.map((test) => {
    const mentions = JSON.stringify([test.expect, test.family?.cases?.rows, test.accepted]).includes(
      JSON.stringify(former).slice(1, -1),
    );
    const [typeBefore, typeAfter] = [before.types.get(test.recordType), after.types.get(test.recordType)];
    return mentions && typeBefore && typeAfter
      ? followed(
          test,
          cameOf([before, old.get(test.key)!, typeBefore], [after, test, typeAfter]),
          typeBefore,
          typeAfter,
        )
      : test;
  });
}

type Side = readonly [Program, RuleTest, TypeProgram];

/** Case by case; undefined for one that did not hold before. */
function cameOf([before, old, typeBefore]: Side, [after, test, typeAfter]: Side): readonly (Came | undefined)[] {
  const now = linesOf(test, typeAfter);
  return linesOf(old, typeBefore).map((line, i) => {
    const was = runTest(before, line.test);
    const is = runTest(after, now[i]!.test);
    return was.failures.length === 0 && was.settlement && is.settlement
      ? { was: was.settlement, is: is.settlement }
      : undefined;
  });
}

function followed(
  test: RuleTest,
  cases: readonly (Came | undefined)[],
  typeBefore: TypeProgram,
  typeAfter: TypeProgram,
): RuleTest {
  const held = cases.filter((c) => c !== undefined);
  const expect = held.reduce((so, came) => followedExpectation(so, came), test.expect);
  const { family } = test;
  const rows = family?.cases?.rows.map((row, i) => {
    const { sent, expected } = family.cases!;
    const came = cases[i];
    return came ? row.map((v, c) => (c < sent.length ? v : becomes(expected[c - sent.length]!, v, came))) : row;
  });
  const [came] = held;
  const steps = test.accepted && came && acceptedSteps(came.was, typeBefore);
  return {
    ...test,
    expect,
    ...(rows ? { family: { ...family, cases: { ...family!.cases!, rows } } } : {}),
    ...(steps && canonicalJson(steps) === canonicalJson(test.accepted)
      ? { accepted: acceptedSteps(came.is, typeAfter) }
      : {}),
  };
}

function followedExpectation(expect: Expectation, came: Came): Expectation {
  const { fields, messages, related } = expect;
  const said = new Map(came.was.messages.map((m, i) => [m.text, came.is.messages[i]?.text]));
  const written = new Map(came.was.writes.map((w, i) => [`${w.recordType} ${w.id} ${w.field}`, came.is.writes[i]]));
  return {
    ...expect,
    ...(fields
      ? { fields: Object.fromEntries(Object.entries(fields).map(([key, v]) => [key, becomes(key, v, came)])) }
      : {}),
    ...(messages ? { messages: messages.map((text) => said.get(text) ?? text) } : {}),
    ...(related
      ? {
          related: related.map((r) => ({
            ...r,
            value: written.get(`${r.recordType} ${r.key} ${r.field}`)?.value ?? r.value,
          })),
        }
      : {}),
  };
}

/** An expected text that came out otherwise; what is expected by the name of an option was renamed where it stands. */
const becomes = (field: string, expected: Stored, { was, is }: Came): Stored =>
  typeof expected === 'string' && was.data[field] === expected && is.data[field] !== expected
    ? (is.data[field] ?? null)
    : expected;
