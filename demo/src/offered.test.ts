/** Whoever writes the demo's formulas anew is offered each name, function and option from its first letters. */
import { completionsAt, tokensOf } from '@rigid-rule/core/assistance';
import { compileProgram } from '@rigid-rule/core/compile';
import { expect, it } from 'vitest';
import { draft } from './index.ts';

/** What the rule itself knows: the record that it matched, and a value worked out before. */
const ofTheRule = ['match', 'Whole name'];

it('what was written next is offered', () => {
  const missed: string[] = [];
  let looked = 0;
  for (const { rules, scope } of compileProgram(draft).types.values())
    for (const { text } of rules.flatMap((r) => r.placed.formulas.map((f) => f.formula)))
      for (const { kind, from, to } of tokensOf(text, scope, ofTheRule)) {
        const word = text.slice(from, to);
        if ((kind !== 'name' && kind !== 'function') || ofTheRule.includes(word)) continue;
        const at = Math.min(to - 1, from + 2);
        looked++;
        const found = completionsAt(text.slice(0, at), at, scope);
        const begun = text.slice(found?.from, at).toLowerCase();
        if (!found?.list.some((c) => c.label === word && word.toLowerCase().startsWith(begun)))
          missed.push(`${text.slice(0, at)}| ${word}`);
      }
  expect(missed).toEqual([]);
  expect(looked).toBeGreaterThan(100);
});
