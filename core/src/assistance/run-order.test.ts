import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import type { Rule, Rulebook } from '../document/document.ts';
import { fixedOrder, moveRule } from './run-order.ts';

const fields = ['A', 'B', 'C', 'D', 'E', 'F'].map((n) => ({ key: n.toLowerCase(), name: n, type: 'number' }));
const rule = (key: string, target: string, formula: string, position: number): Rule => ({
  key,
  recordType: 't',
  name: key,
  purpose: '',
  kind: 'derive',
  on: true,
  position,
  moments: ['updating'],
  entryPoints: ['api'],
  repeat: 'wakes',
  winner: 'rule',
  outcome: { steps: [{ target, scratch: '', formula, blank: 'clear' }] },
});
const programOf = (rules: readonly Rule[]) => {
  const type = { key: 't', name: 'T', plural: 'Ts', title: ['a'], fields, forms: [{ key: 'full', name: 'full' }] };
  const book: Rulebook = { format: 'rigid-rule/1', name: '', zone: 'UTC', currency: 'EUR', recordTypes: [type], rules };
  return compileProgram(book).types.get('t')!;
};
const orderOf = (rules: readonly Rule[]): string[] => programOf(rules).rules.map((r) => r.rule.key);
const moved = (rules: readonly Rule[], positions: ReadonlyMap<string, number>): Rule[] =>
  rules.map((r) => ({ ...r, position: positions.get(r.key) ?? r.position }));

const rules = [
  rule('b from a', 'b', 'A + 1', 0),
  rule('c from b', 'c', 'B + 1', 1),
  rule('d', 'd', '7', 2),
  rule('e', 'e', 'A', 3),
];

describe('the order in which rules run', () => {
  it('says which rules a rule has to come after, and by which fields', () => {
    expect(Object.fromEntries(fixedOrder(programOf(rules)))).toEqual({
      'b from a': [],
      'c from b': [{ rule: 'b from a', fields: ['B'] }],
      d: [],
      e: [],
    });
  });

  it.each<[string, string, number, string[], number]>([
    ['a free rule to the front', 'e', 0, ['e', 'b from a', 'c from b', 'd'], 1],
    ['between two', 'e', 1, ['b from a', 'e', 'c from b', 'd'], 1],
    ['to the end', 'd', 3, ['b from a', 'c from b', 'e', 'd'], 1],
    ['to where it is', 'd', 2, ['b from a', 'c from b', 'd', 'e'], 1],
  ])('%s', (_, key, to, order, changed) => {
    const move = moveRule(programOf(rules), key, to);
    if (!('positions' in move)) throw new Error('cannot be moved');
    expect([orderOf(moved(rules, move.positions)), move.positions.size]).toEqual([order, changed]);
  });

  it('refuses a place that what is read forbids, and says why', () => {
    expect(moveRule(programOf(rules), 'c from b', 0)).toEqual({
      first: 'b from a',
      second: 'c from b',
      fields: ['B'],
    });
  });

  it('a move that is allowed gives just the order that was asked for, whatever the positions were', () => {
    const target = fc.constantFrom('b', 'c', 'd', 'e', 'f');
    const formula = fc.constantFrom('A', 'B + 1', 'C', '7', 'D + E');
    const some = fc.array(fc.tuple(target, formula, fc.integer({ min: -2, max: 2 })), { minLength: 2, maxLength: 7 });
    let allowed = 0;
    fc.assert(
      fc.property(some, fc.nat(6), fc.nat(6), (given, which, to) => {
        const all = given.map(([t, f, p], i) => rule(`r${i}`, t, f, p));
        const program = programOf(all);
        const key = program.rules[which % all.length]!.rule.key;
        const place = to % all.length;
        const move = moveRule(program, key, place);
        const wanted = program.rules.map((r) => r.rule.key).filter((k) => k !== key);
        wanted.splice(place, 0, key);
        // Rules in a circle run round it; where they stand within it is not theirs to choose.
        if (!('positions' in move) || program.rules.some((r) => r.circle >= 0)) return;
        allowed++;
        expect(orderOf(moved(all, move.positions))).toEqual(wanted);
      }),
      { seed: 19, numRuns: 500 },
    );
    expect(allowed).toBeGreaterThan(100);
  });
});
