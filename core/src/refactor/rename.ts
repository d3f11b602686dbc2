/**
 * Renaming a part of the rulebook: everything that names it is rewritten in one act, with spacing and comments kept.
 * What names it is found by what the checker knows of each formula; what looks like it and cannot be known to be it is
 * left and told. The former name is remembered.
 */
import type { Program } from '../compile/compiled.ts';
import { compileProgram, recompileProgram } from '../compile/program.ts';
import type { Rulebook } from '../document/document.ts';
import { isFieldName } from '../document/names.ts';
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
  const broken = newlyBroken(program, recompileProgram(program, result));
  if (broken) return { problem: `${broken} would no longer mean the same: choose another name.` };
  return { rulebook: result, rewritten: search.rewritten, left: search.left };
}

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
