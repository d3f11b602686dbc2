/**
 * Records on which two rulebooks differ, made up from the values at which their rules turn: so that *nothing changes in
 * the samples* is not taken for *nothing changes*.
 */
import { otherVerdictText } from './verdict-words.ts';
import type { CompiledRule, Program, TypeProgram } from '../compile/compiled.ts';
import type { RuleTest } from '../document/document.ts';
import { sameJson } from '../document/canonical.ts';
import { writtenOrBlank } from '../language/wording/written.ts';
import { randomInputs } from './inputs.ts';
import type { RelatedWrite, Settlement } from '../settle/settlement.ts';
import { settleTest, stateText } from './run.ts';
import { suggestFor } from './suggest.ts';

export interface Witness {
  readonly recordType: string;
  /** Key of the changed rule that it was made for. */
  readonly rule: string;
  readonly test: RuleTest;
  /** `Size class is Medium, was Large`. */
  readonly text: string;
}

/** Inputs by chance for each rule that changed. */
const effort = 150;
/** Witnesses of one rule: differences of the same kind are told once. */
const mostOfRule = 6;

/** Rules that one of two rulebooks has otherwise than the other, tables that they read included. */
export function changedRules(before: Program, after: Program): ReadonlySet<string> {
  const tables = new Set<string>();
  for (const key of new Set([...before.tables.keys(), ...after.tables.keys()]))
    if (!sameJson(before.tables.get(key)?.table ?? null, after.tables.get(key)?.table ?? null)) tables.add(key);
  const bodies = [before, after].map(({ rulebook }) => new Map(rulebook.rules.map((r) => [r.key, r])));
  const found = new Set<string>();
  for (const key of bodies.flatMap((rules) => [...rules.keys()]))
    if (!sameJson(bodies[0]!.get(key) ?? null, bodies[1]!.get(key) ?? null)) found.add(key);
  // A rule that one of the two cannot read asks no table there.
  for (const program of [before, after])
    for (const type of program.types.values())
      for (const { rule, tables: asked } of type.rules) if ([...asked].some((t) => tables.has(t))) found.add(rule.key);
  return found;
}

/** Yields now and then, for who has other things to do. */
export function* findWitnesses(before: Program, after: Program, seed = 0): Generator<void, Witness[]> {
  const changed = changedRules(before, after);
  const found: Witness[] = [];
  for (const program of [after, before])
    for (const type of program.types.values()) {
      const now = after.types.get(type.recordType.key);
      if (!now || !before.types.has(type.recordType.key)) continue;
      for (const r of type.rules) {
        if (!changed.has(r.rule.key) || !r.compiles || !r.rule.on) continue;
        yield;
        const told = new Set(found.filter((w) => w.rule === r.rule.key).map((w) => w.text));
        for (const w of witnessesOf(r, type, program, (input) => differenceOn(input, before, after, now), seed))
          if (told.size < mostOfRule && !told.has(w.text)) {
            told.add(w.text);
            found.push(w);
          }
      }
    }
  return found;
}

/** Inputs for one rule on which the two differ: suggested ones, and where those show nothing one by chance. */
function* witnessesOf(
  r: CompiledRule,
  type: TypeProgram,
  program: Program,
  differs: (input: RuleTest) => string | undefined,
  seed: number,
): Iterable<Witness> {
  const known = (program.rulebook.tests ?? []).filter((t) => t.recordType === type.recordType.key && !t.family);
  const witness = (test: RuleTest, text: string): Witness => ({
    recordType: type.recordType.key,
    rule: r.rule.key,
    test: { ...test, expect: {} },
    text,
  });
  let shown = false;
  for (const { test } of suggestFor(r, type, program, {}, known)) {
    const text = differs(test);
    if (text === undefined) continue;
    shown = true;
    yield witness(test, text);
  }
  let left = effort;
  if (shown) return;
  for (const input of randomInputs(r, type, program, known, seed)) {
    if (left-- <= 0) return;
    const text = differs(input);
    if (text === undefined) continue;
    yield witness(input, text);
    return;
  }
}

/**
 * The first thing in which what the two make of an input differs: saved or not, values, messages, the form, other records,
 * who is told.
 */
function differenceOn(input: RuleTest, before: Program, after: Program, type: TypeProgram): string | undefined {
  const [was, is] = [settleTest(before, input, { trace: false }), settleTest(after, input, { trace: false })];
  if (was.verdict !== is.verdict)
    return `It ${otherVerdictText(is.verdict, was.verdict)}${is.messages[0] ? `: ${is.messages[0].text}` : ''}`;
  return (
    valueDifference(was, is, type) ??
    listDifference(was, is, 'says', 'said', (s) => s.messages.map((m) => m.text)) ??
    stateDifference(was, is, type) ??
    listDifference(was, is, 'gives', 'gave', (s) => s.writes.map((w) => givenText(w, after))) ??
    listDifference(was, is, 'tells', 'told', (s) => s.notifications.map((n) => `${n.to}: ${n.subject}`))
  );
}

function valueDifference(was: Settlement, is: Settlement, type: TypeProgram): string | undefined {
  for (const { field } of type.slots) {
    const [a, b] = [was.data[field.key] ?? null, is.data[field.key] ?? null];
    if (!sameJson(a, b))
      return `${field.name} is ${writtenOrBlank(field, b, type.writing)}, was ${writtenOrBlank(field, a, type.writing)}`;
  }
  return undefined;
}

function stateDifference(was: Settlement, is: Settlement, type: TypeProgram): string | undefined {
  for (const { field } of type.slots) {
    const [a = {}, b = {}] = [was.states[field.key], is.states[field.key]];
    for (const what of ['required', 'locked', 'hidden'] as const)
      if ((a[what] === undefined) !== (b[what] === undefined))
        return `${field.name} ${stateText(what, b[what] !== undefined, field)}`;
    if (!sameJson(a.allowed ?? null, b.allowed ?? null))
      return `${field.name} ${stateText('allowed', b.allowed, field)}; before: ${stateText('allowed', a.allowed, field)}`;
  }
  return undefined;
}

/** A value for another record: `Customer, Size class: Large`. */
function givenText({ recordType, field: key, value }: RelatedWrite, program: Program): string {
  const { name, fields } = program.types.get(recordType)!.recordType;
  const field = fields.find((f) => f.key === key)!;
  return `${name}, ${field.name}: ${writtenOrBlank(field, value, program.writing)}`;
}

function listDifference(
  was: Settlement,
  is: Settlement,
  now: string,
  then: string,
  textsOf: (s: Settlement) => readonly string[],
): string | undefined {
  const [a, b] = [was, is].map((s) => textsOf(s).join(' '));
  return a === b ? undefined : `It ${now} ${b ? `“${b}”` : 'nothing'}, ${then} ${a ? `“${a}”` : 'nothing'}`;
}
