import { compileProgram } from '@rigid-rule/core/compile';
import { canonicalJson, editPartBody, fromParts, partId, toParts, type PartBody } from '@rigid-rule/core/document';
import { draft } from '@rigid-rule/demo';
import { describe, expect, it } from 'vitest';
import type { PartEdit } from './parts.ts';
import { editsBetween, planRenaming } from './renaming.ts';

const applied = (edits: readonly PartEdit[]) => {
  const parts = toParts(draft).map((part) => {
    const edit = edits.find((e) => partId(e.ref) === partId(part));
    return edit ? { ...part, body: editPartBody(part.body as PartBody, edit.operations).body! } : part;
  });
  return fromParts(parts);
};

describe('a renaming as edits of parts', () => {
  it.each([
    [{ what: 'field', recordType: 'deal', key: 'stage', name: 'Step' }, 'Stage', 'Step'],
    [{ what: 'option', recordType: 'deal', field: 'cover', key: 'extended', name: 'Full' }, '"Extended"', '"Full"'],
    [{ what: 'table', key: 'stage-odds', name: 'Chances' }, 'Stage odds', 'Chances'],
  ] as const)('%o rewrites every text that means it, and all still compiles', (renaming, from, to) => {
    const plan = planRenaming(draft, renaming);
    if ('problem' in plan) throw new Error(plan.problem);
    expect(plan.texts.length).toBeGreaterThan(0);
    for (const t of plan.texts) expect([t.from.includes(from), t.to.includes(to)]).toEqual([true, true]);
    const program = compileProgram(applied(plan.edits));
    expect(program.broken.map((b) => b.rule.key)).toEqual(compileProgram(draft).broken.map((b) => b.rule.key));
  });

  it('says why it cannot be done, and touches nothing', () => {
    expect(planRenaming(draft, { what: 'field', recordType: 'deal', key: 'stage', name: 'Amount' })).toEqual({
      problem: 'Amount is taken.',
    });
  });

  it('there is nothing between a rulebook and itself', () => {
    expect(editsBetween(draft, draft)).toEqual([]);
    expect(canonicalJson(applied([]))).toBe(canonicalJson(fromParts(toParts(draft))));
  });
});
