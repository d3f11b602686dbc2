/**
 * Renaming a part of the rulebook: everything that names it is rewritten in one act, with spacing and comments kept.
 * What names it is found by what the checker knows of each formula; what looks like it and cannot be known to be it is
 * left and told. Tests that held go on holding. The former name is remembered.
 */
import type { Program } from '../compile/compiled.ts';
import { compileProgram, recompileProgram } from '../compile/program.ts';
import type { RuleTest, Rulebook } from '../document/document.ts';
import { isFieldName } from '../document/names.ts';
import { difference, valueAt } from '../document/patch.ts';
import { followedTests } from './followed-tests.ts';
import { NameSearch } from './name-search.ts';
import { OptionSearch } from './option-search.ts';
import { withName } from './renamed-parts.ts';
import type { Renaming, TextAt } from './renaming.ts';

export type { Renaming, TextAt } from './renaming.ts';

export type Renamed =
  | {
      readonly rulebook: Rulebook;
      /** Texts that were rewritten, as they are now. */
      readonly rewritten: readonly (TextAt & { readonly from: string })[];
      /** Texts that look like it and were left, because it cannot be known that they mean it. */
      readonly left: readonly TextAt[];
    }
  | { readonly problem: string };

/** @param program The rulebook, compiled, where it is at hand. */
export function rename(rulebook: Rulebook, renaming: Renaming, program = compileProgram(rulebook)): Renamed {
  const { name } = renaming;
  if (renaming.what !== 'option' && !isFieldName(name))
    return {
      problem: `${name || 'Nothing'} cannot be a name: letters, digits and single spaces only, and no word of the language.`,
    };
  const named = withName(rulebook, renaming);
  if ('problem' in named) return named;
  const search =
    renaming.what === 'option'
      ? new OptionSearch(rulebook, program, renaming, named.former)
      : new NameSearch(rulebook, program, named.names, named.former, name);
  search.run();
  const result = search.applyTo(named.rulebook);
  const after = recompileProgram(program, result);
  const broken = newlyBroken(program, after);
  if (broken) return { problem: `${broken} would no longer mean the same: choose another name.` };
  if (!result.tests) return { rulebook: result, rewritten: search.rewritten, left: search.left };
  const tests = followedTests(program, after, named.former);
  const expected = tests.flatMap((test, i) => expectedOtherwise(result.tests![i]!, test));
  return { rulebook: { ...result, tests }, rewritten: [...search.rewritten, ...expected], left: search.left };
}

/** Texts of a test that follow; what rules did when it was accepted is no text of anybody's. */
const expectedOtherwise = (before: RuleTest, after: RuleTest): Extract<Renamed, { rulebook: Rulebook }>['rewritten'] =>
  difference(before, after).flatMap((o) => {
    if (o.op !== 'replace' || typeof o.value !== 'string' || o.path.startsWith('/accepted')) return [];
    const part = { kind: 'test', key: after.key } as const;
    return [{ part, path: o.path, from: String(valueAt(before, o.path)), text: o.value }];
  });

/** A rule that compiled before and does not under the new names, or reads something else. */
function newlyBroken(before: Program, after: Program): string | undefined {
  const describe = ({ types }: Program): Map<string, string> =>
    new Map(
      [...types.values()].flatMap((t) =>
        t.rules.map(
          (r) =>
            [
              r.rule.key,
              JSON.stringify([r.compiles, r.reads, r.wakes, r.related.map((x) => [x.recordType, x.field])]),
            ] as const,
        ),
      ),
    );
  const [a, b] = [describe(before), describe(after)];
  const different = [...a].find(([key, text]) => b.get(key) !== text && text.startsWith('[true'));
  return different && (before.rulebook.rules.find((r) => r.key === different[0])?.name ?? different[0]);
}
