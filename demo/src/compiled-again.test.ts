/** What did not change is not compiled again: an edit at the desk costs what it touches, whatever the size of the rulebook. */
import { compileProgram, recompileProgram, type CompiledRule, type Program } from '@rigid-rule/core/compile';
import { fromParts, toParts, type Part } from '@rigid-rule/core/document';
import { describe, expect, it } from 'vitest';
import { draft as demo } from './index.ts';

const parts = toParts(demo);
const edited = (key: string, more: object): readonly Part[] =>
  parts.map((p) => (p.key === key ? { ...p, body: { ...(p.body as object), ...more } } : p));

/** Keys of the rules that are compiled anew from one rulebook to the next. */
function anew(next: readonly Part[]): string[] {
  const first = fromParts(parts);
  // What a rule keeps of itself besides its place in the order.
  const kept = (r: CompiledRule): unknown => r.asleep;
  const rulesOf = ({ types }: Program): readonly CompiledRule[] => [...types.values()].flatMap((t) => t.rules);
  const program = compileProgram(first);
  const before = new Map(rulesOf(program).map((r) => [r.rule.key, kept(r)]));
  const after = rulesOf(recompileProgram(program, fromParts(next, first)));
  return after.filter((r) => before.get(r.rule.key) !== kept(r)).map((r) => r.rule.key);
}

describe('compiling the next rulebook', () => {
  it('of the same parts compiles nothing', () => {
    expect(anew(parts)).toEqual([]);
  });

  it('with one rule changed compiles that one', () => {
    expect(anew(edited('margin', { purpose: 'Another one.' }))).toEqual(['margin']);
  });

  it('with a title changed compiles nothing', () => {
    expect(anew(edited('settings', { name: 'Another name' }))).toEqual([]);
  });

  it('a document that is well formed is taken as it is', () => {
    const rulebook = fromParts(parts);
    expect(compileProgram(rulebook).rulebook).toBe(rulebook);
  });
});
