/** Fields, child lists, tables and columns: what a name in a formula names. */
import type { Program } from '../compile/compiled.ts';
import type { Rulebook } from '../document/document.ts';
import { walk } from '../language/expression/ast.ts';
import type { Named } from '../language/expression/checked.ts';
import { mentions, textAt, TextSearch, type Replacement } from './text-search.ts';

export class NameSearch extends TextSearch {
  private readonly isIt: (named: Named) => boolean | 'perhaps';
  private readonly by: string;

  constructor(
    rulebook: Rulebook,
    program: Program,
    isIt: (named: Named) => boolean | 'perhaps',
    former: string,
    by: string,
  ) {
    super(rulebook, program, former);
    this.isIt = isIt;
    this.by = by;
  }

  run(): void {
    for (const { part, body, formulas } of this.holders()) {
      const replacements = new Map<string, Replacement[]>();
      for (const { path, at, formula } of formulas) {
        const { expression, checked } = formula;
        const whole = textAt(body, path) ?? '';
        // The key of a lookup may stand where a formula does.
        if (whole.slice(at, at + formula.text.length) !== formula.text) continue;
        if (!expression || !checked) {
          if (mentions(formula.text, this.former)) this.leave(part, path, whole);
          continue;
        }
        walk(expression, (e) => {
          const named = checked.named.get(e);
          const found = named ? this.isIt(named) : false;
          if (found === 'perhaps') this.leave(part, path, whole);
          const range = e.kind === 'path' ? e.nameRange : e.range;
          if (found !== true) return;
          const own = replacements.get(path) ?? [];
          replacements.set(path, [...own, { from: at + range.from, to: at + range.to, by: this.by }]);
        });
      }
      for (const [path, found] of replacements) this.replace(part, body, path, found);
    }
  }
}
