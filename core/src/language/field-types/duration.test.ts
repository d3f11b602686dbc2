import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileProgram } from '../../compile/program.ts';
import { settle } from '../../settle/settle.ts';
import type { Field } from '../../document/document.ts';
import { dealBook, dealTypes, ruleOf, setTo, writeOf } from '../../testing/deals.ts';
import { duration } from './duration.ts';

const field: Field = { key: 'f', name: 'F', type: 'duration' };
const stored = (typed: string): unknown => duration.coerce(duration.parse(typed, field), field);

describe('a duration', () => {
  // ISO 8601-1:2019, 5.5.2: the designators; equal ones are stored in one form.
  it.each([
    ['14 days', 'P14D', '14 days'],
    ['2 weeks', 'P14D', '14 days'],
    ['1 d 12 h', 'P1DT12H', '1 day 12 hours'],
    ['36h', 'P1DT12H', '1 day 12 hours'],
    ['PT36H', 'P1DT12H', '1 day 12 hours'],
    ['90 min', 'PT1H30M', '1 hour 30 minutes'],
    ['1 hour and 5 seconds', 'PT1H5S', '1 hour 5 seconds'],
    ['PT0S', 'PT0S', '0 days'],
  ])('typed as %s is stored as %s and shown as %s', (typed, iso, shown) => {
    expect(stored(typed)).toEqual({ value: iso });
    expect(duration.format(iso, field)).toBe(shown);
  });

  it.each(['soon', '3', '2 moons', 'P1Y', 'P1M2D', '-P3D', '4 days soon'])('%s is none', (typed) => {
    expect(stored(typed)).toHaveProperty('problem');
  });

  it('whatever its length is typed, stored and shown without loss, and sorts by length', () => {
    const seconds = fc.integer({ min: 0, max: 86_400 * 999_999 });
    fc.assert(
      fc.property(seconds, seconds, (a, b) => {
        const [one, two] = [a, b].map((n) => (stored(`${n} s`) as { value: string }).value);
        expect(stored(duration.format(one!, field))).toEqual({ value: one });
        expect(duration.compare(one!, two!, field)).toBe(Math.sign(a - b));
      }),
    );
  });

  it('is computed with: a service falls due an interval after the last one', () => {
    const deal = dealTypes.find((t) => t.key === 'deal')!;
    const more: Field[] = [
      { key: 'every', name: 'Every', type: 'duration' },
      { key: 'last', name: 'Last service', type: 'date' },
      { key: 'next', name: 'Next service', type: 'date' },
      { key: 'twice', name: 'Twice', type: 'duration' },
    ];
    const recordTypes = dealTypes.map((t) => (t === deal ? { ...t, fields: [...t.fields, ...more] } : t));
    const rules = [
      ruleOf('deal', 'derive', setTo('next', 'Last service + Every')),
      { ...ruleOf('deal', 'derive', setTo('twice', 'Every * 2')), key: 'twice' },
    ];
    const program = compileProgram({ ...dealBook(rules), recordTypes });
    expect(program.broken).toEqual([]);
    const { data } = settle(program, writeOf('deal', {}, { every: 'P14D', last: '2026-02-20' }));
    expect(data).toMatchObject({ next: '2026-03-06', twice: 'P28D' });
  });
});
