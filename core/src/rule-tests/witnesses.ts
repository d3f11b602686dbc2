/**
 * Records on which two rulebooks differ, made up from the values at which their rules turn: so that *nothing changes in
 * the samples* is not taken for *nothing changes*.
 */
import type { Program, TypeProgram } from '../compile/compiled.ts';
import type { RuleTest } from '../document/document.ts';
import { sameJson } from '../document/canonical.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
import { randomInputs } from './inputs.ts';
import { settleTest } from './run.ts';
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
  const old = new Map(before.rulebook.rules.map((r) => [r.key, r]));
  const found = new Set<string>();
  for (const type of after.types.values())
    for (const { rule, tables: asked } of type.rules) {
      if (!sameJson(old.get(rule.key) ?? null, rule) || [...asked].some((t) => tables.has(t))) found.add(rule.key);
      old.delete(rule.key);
    }
  for (const key of old.keys()) found.add(key);
  return found;
}

/** Yields now and then, for who has other things to do. */
export function* findWitnesses(before: Program, after: Program, seed = 0): Generator<void, Witness[]> {
  const changed = changedRules(before, after);
  const found: Witness[] = [];
  for (const program of [after, before])
    for (const type of program.types.values()) {
      const [a, b] = [before.types.get(type.recordType.key), after.types.get(type.recordType.key)];
      if (!a || !b) continue;
      for (const r of type.rules) {
        if (!changed.has(r.rule.key) || !r.compiles || !r.rule.on) continue;
        yield;
        const known = (program.rulebook.tests ?? []).filter((t) => t.recordType === type.recordType.key && !t.family);
        const seen = new Set(found.filter((w) => w.rule === r.rule.key).map((w) => w.text));
        const offer = (input: RuleTest): void => {
          if (seen.size >= mostOfRule) return;
          const text = differenceOn(input, before, after, b);
          if (text === undefined || seen.has(text)) return;
          seen.add(text);
          found.push({ recordType: type.recordType.key, rule: r.rule.key, test: { ...input, expect: {} }, text });
        };
        for (const s of suggestFor(r, type, program, {}, known)) offer(s.test);
        let left = effort;
        if (seen.size === 0)
          for (const input of randomInputs(r, type, program, known, seed)) {
            if (left-- <= 0 || seen.size > 0) break;
            offer(input);
          }
      }
    }
  return found;
}

function differenceOn(input: RuleTest, before: Program, after: Program, type: TypeProgram): string | undefined {
  const [was, is] = [settleTest(before, input, { trace: false }), settleTest(after, input, { trace: false })];
  if (was.verdict !== is.verdict)
    return `it is ${is.verdict}, was ${was.verdict}${is.messages[0] ? `: ${is.messages[0].text}` : ''}`;
  for (const { field } of type.slots) {
    const [a, b] = [was.data[field.key] ?? null, is.data[field.key] ?? null];
    if (sameJson(a, b)) continue;
    const text = (v: typeof a): string => fieldTypeOf(field).format(v, field) || 'blank';
    return `${field.name} is ${text(b)}, was ${text(a)}`;
  }
  const said = (s: typeof was): string => s.messages.map((m) => m.text).join(' ');
  if (said(was) !== said(is)) return `it says “${said(is)}”, said “${said(was)}”`;
  return was.notifications.length === is.notifications.length
    ? undefined
    : `${is.notifications.length} are told, ${was.notifications.length} were`;
}
