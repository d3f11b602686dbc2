import { compileProgram, type DeriveStep } from '@rigid-rule/core/compile';
import { describe, expect, it } from 'vitest';
import { dealBook } from '../../../../../../core/src/testing/deals.ts';
import { asScratch, inOtherForm, moved, stepContexts } from './derive-steps.ts';

const { scope } = compileProgram(dealBook([])).types.get('deal')!;
const step = (more: Partial<DeriveStep>): DeriveStep => ({
  target: 'title',
  scratch: '',
  formula: '',
  blank: 'clear',
  ...more,
});

describe('steps of a derive rule', () => {
  it('name the scratch values of those before them, of the type that their formulas have', () => {
    const steps = [
      step({ target: '', scratch: 'Margin', formula: 'Amount - Cost' }),
      step({ formula: 'Title' }),
      step({ target: '', scratch: 'Is good', formula: 'Margin > 100' }),
      step({ target: 'amount', formula: 'Margin' }),
    ];
    const told = stepContexts(steps, scope).map((c) => c.variables.map((v) => `${v.name}: ${v.type.kind}`));
    expect(told).toEqual([[], ['Margin: number'], ['Margin: number'], ['Margin: number', 'Is good: boolean']]);
  });

  it('become scratch values under names that none has', () => {
    const steps = [step({ target: '', scratch: 'Scratch 1' }), step({ template: '{Title}', formula: 'Title' })];
    expect(asScratch(steps, 1)).toEqual(step({ target: '', scratch: 'Scratch 2', formula: 'Title' }));
  });

  it.each([
    [{ formula: '"Deal " + Title' }, { template: 'Deal {Title}', formula: '' }],
    [
      { template: 'Deal {Title}', blank: 'gaps' as const },
      { formula: '"Deal " + Title', blank: 'clear' as const },
    ],
    [{ formula: 'Amount > 3' }, undefined],
    [{ template: 'Deal {' }, undefined],
  ])('%j say the same in the other form, or %j', (more, expected) => {
    const now = inOtherForm(step(more), scope);
    if (expected === undefined) {
      expect(now).toBeUndefined();
      expect(inOtherForm(step(more), scope, true)).toBeDefined();
    } else expect(now).toMatchObject(expected);
  });

  it.each([
    [0, 2, 'bca'],
    [2, 0, 'cab'],
    [1, 1, 'abc'],
    [0, -1, 'abc'],
    [2, 3, 'abc'],
  ])('go from place %i to %i: %s', (from, to, order) => {
    expect(moved(['a', 'b', 'c'], from, to).join('')).toBe(order);
  });
});
