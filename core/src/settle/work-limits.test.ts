/** The work that one write may do: counted anew for each write, and by a deadline where a host sets one. */
import { describe, expect, it } from 'vitest';
import type { Rule } from '../document/document.ts';
import { dealBook, ruleOf, setTo, writeOf } from '../testing/deals.ts';
import type { Deadline } from '../values/meter.ts';
import { compileProgram } from '../compile/program.ts';
import { settle } from './settle.ts';
import type { Message } from './settlement.ts';
import { settleAndPropagate } from '../related/propagation.ts';

const counting = (upTo: number): Rule =>
  ruleOf('deal', 'derive', setTo('amount', `count(for i in 1..${upTo} return Title)`));
const write = writeOf('deal', {}, { title: 'x' });
const texts = (messages: readonly Message[]): string[] => messages.map((m) => m.text);

describe('the work of one write', () => {
  it('is counted anew for each: many writes that each keep within it hold one another up not at all', () => {
    const program = compileProgram(dealBook([counting(30_000)]));
    for (let i = 0; i < 60; i++) expect(texts(settle(program, write).messages), `write ${i + 1}`).toEqual([]);
  });

  const never: Deadline = { ms: 50, passed: () => true };
  it.each<[string, number, string[]]>([
    [
      'goes beyond it',
      200_000,
      ['Derive amount takes too long: the rules have 50 ms for one write, and it goes beyond.'],
    ],
    ['is so little that no clock is looked at', 100, []],
  ])('is held to a deadline: %s', (_, upTo, expected) => {
    const rule = { ...counting(upTo), name: 'Derive amount' };
    const program = compileProgram(dealBook([rule]));
    for (const run of [settle, settleAndPropagate]) {
      const result = run(program, write, undefined, { deadline: never });
      const settlement = 'settlement' in result ? result.settlement : result;
      expect(texts(settlement.messages)).toEqual(expected);
      expect(settlement.verdict).toBe(expected.length > 0 ? 'stopped' : 'saved');
    }
  });

  it('of formulas that are each cheap is looked at together', () => {
    const rules = Array.from({ length: 20 }, (_, i) => ({
      ...ruleOf('deal', 'derive', setTo('amount', 'count(for i in 1..4000 return Title)')),
      key: `r${i}`,
    }));
    const program = compileProgram(dealBook(rules));
    expect(settle(program, write, undefined, { deadline: never }).verdict).toBe('stopped');
    expect(settle(program, write, undefined, { deadline: { ms: 50, passed: () => false } }).verdict).toBe('saved');
  });
});
