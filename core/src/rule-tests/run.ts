/** A rule test run against a program: what it expects and does not get, in words. */
import { settle } from '../settle/settle.ts';
import type { SettleOptions } from '../settle/settlement.ts';
import type { Program, TypeProgram } from '../compile/compiled.ts';
import type { Settlement } from '../settle/settlement.ts';
import type { Write } from '../records/write.ts';
import { RecordsSource } from '../records/record-source.ts';
import { sameStored } from '../language/field-types/field-type.ts';
import { writtenOrBlank, writtenValue } from '../language/wording/written.ts';
import { plainWriting } from '../language/types/writing.ts';
import { canonicalJson, sameJson } from '../document/canonical.ts';
import { allLines } from './family.ts';
import { relatedText, testedId, type Shown } from './test-values.ts';
import { didText, settledText } from './verdict-words.ts';
import type { AcceptedStep, Expectation, Field, RecordData, RuleTest, Stored } from '../document/document.ts';

export interface TestResult {
  /** The case that was run: for a test without a family the test itself. */
  readonly test: RuleTest;
  /** Key of the test that it is a case of. */
  readonly of: string;
  readonly failures: readonly string[];
  /** Absent where the test cannot be run at all. */
  readonly settlement?: Settlement;
}

export function writeOfTest(test: RuleTest): Write {
  return {
    recordType: test.recordType,
    id: ownId,
    before: test.before ? { data: test.before.data, held: test.before.held ?? [] } : null,
    sent: test.sent,
    typed: test.typed ?? Object.keys(test.sent),
    moment: test.moment,
    entryPoint: test.entryPoint,
    now: test.now,
    ...(test.user ? { user: test.user } : {}),
    ...(test.woken ? { woken: test.woken } : {}),
    ...(test.origin ? { origin: test.origin } : {}),
  };
}

/**
 * The settlement that a test looks at; children of its record name it by the key `tested`. Messages are neutral: a test
 * expects them by their words, whoever runs it.
 */
export function settleTest(program: Program, test: RuleTest, options: SettleOptions = {}): Settlement {
  let linked = false;
  const related = (test.related ?? []).map(({ recordType, key, data }) => {
    const own = linksToOwn(program, test, recordType, data);
    linked ||= own.length > 0;
    return { recordType, id: key, data: { ...data, ...Object.fromEntries(own.map((k) => [k, ownId])) } };
  });
  const settled = settle(program, writeOfTest(test), new RecordsSource(related), { writing: plainWriting, ...options });
  return linked ? withTestedId(settled) : settled;
}

/** The id of the record under test, which no record beside it has; what comes out names it by `testedId` as well. */
const ownId = '\0tested';

/** Keys of the fields by which a record beside a test links to the record under test. */
function linksToOwn(program: Program, test: RuleTest, recordType: string, data: RecordData): readonly string[] {
  const named = Object.keys(data).filter((k) => data[k] === testedId);
  if (named.length === 0) return named;
  const { fields = [] } = program.rulebook.recordTypes.find((t) => t.key === recordType) ?? {};
  return named.filter((k) => fields.some((f) => f.key === k && f.recordType === test.recordType));
}

/** What comes out is plain JSON, and the id is in no text that anybody wrote. */
const withTestedId = (s: Settlement): Settlement =>
  JSON.parse(JSON.stringify(s).replaceAll(JSON.stringify(ownId).slice(1, -1), testedId)) as Settlement;

/** One case; a family is taken apart first (`runTests`). */
export function runTest(
  program: Program,
  test: RuleTest,
  options: SettleOptions = {},
  of: string = test.key,
): TestResult {
  const type = program.types.get(test.recordType);
  if (!type) return { test, of, failures: [`There is no record type ${test.recordType}.`] };
  const settlement = settleTest(program, test, options);
  return { test, of, settlement, failures: compare(settlement, test, program, type) };
}

/** Whether a case fails. No trace is kept where nothing is expected of it. */
export function failsTest(program: Program, test: RuleTest, options: SettleOptions = {}): boolean {
  const { ran, didNotRun } = test.expect;
  const kept = ran || didNotRun ? options : { ...options, trace: false };
  return runTest(program, test, kept).failures.length > 0;
}

/** Verdicts of a rule that did its work, whether or not something came of it. */
export const actedVerdicts: ReadonlySet<string> = new Set(['ran', 'no effect', 'stops']);

function compare(s: Settlement, test: RuleTest, program: Program, type: TypeProgram): string[] {
  const { expect } = test;
  return [
    ...valueFailures(s, expect, type),
    ...stateFailures(s, expect, type),
    ...listFailures(s, test, program),
    ...ruleFailures(s, expect, type),
    ...(expect.verdict === undefined || expect.verdict === s.verdict
      ? []
      : [`The write ${settledText(s.verdict)}; expected: ${settledText(expect.verdict)}.`]),
  ];
}

function valueFailures(s: Settlement, expect: Expectation, type: TypeProgram): string[] {
  return Object.entries(expect.fields ?? {}).flatMap(([key, wanted]) => {
    const slot = type.slots[type.slotOf.get(key) ?? -1];
    if (!slot) return [`There is no field ${key}.`];
    const coerced = slot.type.coerce(wanted, slot.field);
    const value = 'value' in coerced ? coerced.value : wanted;
    const actual = s.data[key] ?? null;
    const shown = (v: Stored): string => writtenOrBlank(slot.field, v, type.writing);
    return sameStored(actual, value) ? [] : [`${slot.field.name} is ${shown(actual)}, not ${shown(value)}.`];
  });
}

/** What a field is like where a state holds, and where it does not. */
export const stateWords: Readonly<Record<string, readonly [string, string]>> = {
  required: ['has to be filled in', 'may stay blank'],
  locked: ['is locked', 'is not locked'],
  hidden: ['is hidden', 'is on show'],
};

/** `has to be filled in`, `takes only Large, Medium`. */
export function stateText(what: string, value: unknown, field: Field | undefined): string {
  if (what !== 'allowed') return stateWords[what]?.[value ? 0 : 1] ?? `${what} ${canonicalJson(value)}`;
  if (!Array.isArray(value)) return 'takes any option';
  const names = value.map((key) => field?.options?.find((o) => o.key === key)?.name ?? String(key));
  return `takes only ${names.join(', ') || 'nothing'}`;
}

function stateFailures(s: Settlement, expect: Expectation, type: TypeProgram): string[] {
  return Object.entries(expect.states ?? {}).flatMap(([key, wanted]) => {
    const field = type.slots[type.slotOf.get(key) ?? -1]?.field;
    const state = (s.states[key] ?? {}) as Readonly<Record<string, unknown>>;
    return Object.entries(wanted).flatMap(([what, value]) => {
      const actual = what === 'allowed' ? (state[what] ?? null) : state[what] !== undefined;
      const same = canonicalJson(actual) === canonicalJson(value);
      if (same) return [];
      return [`${field?.name ?? key} ${stateText(what, actual, field)}; expected: ${stateText(what, value, field)}.`];
    });
  });
}

function listFailures(s: Settlement, test: RuleTest, { rulebook, writing }: Program): string[] {
  const { messages, notified, related } = test.expect;
  const shown: Shown = (field, value) => writtenValue(field, value, writing);
  const written = s.writes.map(({ id, recordType, field, value }) => ({ recordType, key: id, field, value }));
  return [
    ...listFailure(
      'It says',
      s.messages.map((m) => m.text),
      messages,
      String,
    ),
    ...listFailure(
      'Told are',
      s.notifications.map((n) => n.to),
      notified,
      String,
    ),
    ...listFailure('Written on other records', written, related, (w) => relatedText(w, test, rulebook, shown)),
  ];
}

/** Compared by what they are, in any order, and told by how they read. */
function listFailure<T>(
  what: string,
  actual: readonly T[],
  wanted: readonly T[] | undefined,
  told: (item: T) => string,
): string[] {
  const sorted = (list: readonly T[]): readonly string[] => list.map(canonicalJson).sort();
  if (!wanted || sameJson(sorted(actual), sorted(wanted))) return [];
  const all = (list: readonly T[]): string => list.map((item) => `“${told(item)}”`).join(', ') || 'nothing';
  return [`${what}: ${all(actual)}; expected: ${all(wanted)}.`];
}

function ruleFailures(s: Settlement, expect: Expectation, type: TypeProgram): string[] {
  const nameOf = (key: string): string => `“${type.rules.find((r) => r.rule.key === key)?.rule.name ?? key}”`;
  const verdicts = new Map(s.trace.map((t) => [t.rule, t.verdict]));
  const acted = (rule: string): boolean => actedVerdicts.has(verdicts.get(rule) ?? '');
  return [
    ...(expect.ran ?? [])
      .filter((rule) => !acted(rule))
      .map((rule) => `${nameOf(rule)} did not act: ${didText(verdicts.get(rule))}.`),
    ...(expect.didNotRun ?? []).filter(acted).map((rule) => `${nameOf(rule)} acted.`),
  ];
}

/** Verdicts of rules that had nothing to do with a write. */
export const idleVerdicts: ReadonlySet<string> = new Set([
  'asleep',
  'other moment',
  'other entry point',
  'off',
  'broken',
]);

/** What the rules did, as a test keeps it when it is accepted. */
export function acceptedSteps(settlement: Settlement, type: TypeProgram): readonly AcceptedStep[] {
  return settlement.trace.flatMap(({ rule, verdict, outcomes }) => {
    if (idleVerdicts.has(verdict)) return [];
    const actual = outcomes.flatMap((o) => {
      const slot = type.slots[type.slotOf.get(o.field) ?? -1];
      return slot && !sameStored(o.from, o.to)
        ? [`${slot.field.name}: ${writtenOrBlank(slot.field, o.to, plainWriting)}`]
        : [];
    });
    return [{ rule, verdict, ...(actual.length > 0 ? { text: actual.join(', ') } : {}) }];
  });
}

/**
 * The text of a kept step, which is neutral, with its values as the organisation writes them: `Open deal value: 1.000,00 €`.
 * What is none of a field that its rule writes stays as it is.
 */
export function shownStep({ rule, text = '' }: AcceptedStep, { rules, slots, writing }: TypeProgram): string {
  const writes = rules.find((r) => r.rule.key === rule)?.writes ?? [];
  if (writes.length === 0) return text;
  const named = new Map(writes.map((s) => [slots[s]!.field.name, slots[s]!.type.written ?? 'text'] as const));
  // A value may hold commas, and what follows it is the name of a field.
  const names = [...named.keys()]
    .sort((a, b) => b.length - a.length)
    .map((n) => n.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'));
  const parts = text.split(new RegExp(`(?:^|, )(${names.join('|')}): `));
  if (parts[0] !== '') return text;
  const said: string[] = [];
  for (let i = 1; i < parts.length; i += 2) {
    const [name, value] = [parts[i]!, parts[i + 1]!];
    said.push(`${name}: ${value === 'blank' ? value : writing[named.get(name)!](value)}`);
  }
  return said.join(', ');
}

export const runTests = (program: Program, tests: readonly RuleTest[], options: SettleOptions = {}): TestResult[] =>
  allLines(program, tests).map(({ test, of }) => runTest(program, test, options, of));

/** Keys of the rules that some test makes act. */
export const reachedBy = (results: readonly TestResult[]): ReadonlySet<string> =>
  new Set(
    results.flatMap((r) => r.settlement?.trace.filter((t) => actedVerdicts.has(t.verdict)).map((t) => t.rule) ?? []),
  );
