/** The order in which rules run: why a place is fixed, and what moving a rule to another place takes. */
import { orderRules, predecessors } from '../compile/order.ts';
import type { CompiledRule, TypeProgram } from '../compile/compiled.ts';

/** A rule that has to run before another one, and the fields that say so. */
export interface RunsAfter {
  /** Key of the rule that comes first. */
  readonly rule: string;
  /** Names of the fields that it writes and the other one reads. */
  readonly fields: readonly string[];
}

/** By rule, the rules that it has to come after; rules of one circle do not hold each other. */
export function fixedOrder({ rules, recordType, slotOf }: TypeProgram): ReadonlyMap<string, readonly RunsAfter[]> {
  const nameOf = new Map(recordType.fields.map((f) => [slotOf.get(f.key)!, f.name]));
  return new Map(
    predecessors(rules).map((before, i): [string, RunsAfter[]] => [
      rules[i]!.rule.key,
      [...before].flatMap(([j, slots]) =>
        rules[i]!.circle >= 0 && rules[i]!.circle === rules[j]!.circle
          ? []
          : [{ rule: rules[j]!.rule.key, fields: slots.map((s) => nameOf.get(s) ?? '') }],
      ),
    ]),
  );
}

export type Move =
  | { readonly positions: ReadonlyMap<string, number> }
  /** Why it cannot stand there: the rule that it would pass, and which of the two has to come first. */
  | { readonly first: string; readonly second: string; readonly fields: readonly string[] };

/**
 * The positions that have to change so that a rule runs at another place of the order; few of them, so that two people
 * who order rules seldom meet. `to`: index in the order without the rule.
 */
export function moveRule(program: TypeProgram, key: string, to: number): Move {
  const moved = program.rules.find((r) => r.rule.key === key);
  if (!moved) return { positions: new Map() };
  const wanted = program.rules.filter((r) => r !== moved);
  wanted.splice(Math.max(0, Math.min(to, wanted.length)), 0, moved);
  const at = new Map(wanted.map((r, i) => [r.rule.key, i]));
  for (const [second, before] of fixedOrder(program))
    for (const { rule: first, fields } of before)
      if (at.get(first)! > at.get(second)!) return { first, second, fields };
  const own = between(wanted, at.get(key)!);
  const alone = own === undefined ? undefined : new Map([[key, own]]);
  if (alone && isOrder(wanted, alone)) return { positions: alone };
  const all = wanted.flatMap((r, i) => (r.rule.position === i ? [] : [[r.rule.key, i] as const]));
  return { positions: new Map(all) };
}

/** A position between those of the neighbours; undefined where there is none. */
function between(rules: readonly CompiledRule[], i: number): number | undefined {
  const [before, after] = [rules[i - 1]?.rule.position, rules[i + 1]?.rule.position];
  if (before === undefined && after === undefined) return 0;
  if (before === undefined) return after! - 1;
  if (after === undefined) return before + 1;
  const middle = (before + after) / 2;
  return before < middle && middle < after ? middle : undefined;
}

function isOrder(wanted: readonly CompiledRule[], positions: ReadonlyMap<string, number>): boolean {
  const moved = wanted.map((r) => {
    const position = positions.get(r.rule.key);
    return position === undefined ? r : { ...r, rule: { ...r.rule, position } };
  });
  return orderRules(moved).every((r, i) => r.rule.key === wanted[i]!.rule.key);
}
