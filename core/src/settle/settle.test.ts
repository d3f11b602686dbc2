import { findingsOf } from '../analysis/findings.ts';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { canonicalJson } from '../document/canonical.ts';
import type { Rule, Stored } from '../document/document.ts';
import { rulebookOf, sizeClass, update } from '../testing/customers.ts';
import { randomRulebook, randomWrite } from '../testing/random-rulebooks.ts';
import { compileProgram } from '../compile/program.ts';
import { settle } from './settle.ts';
import type { Settlement } from './settlement.ts';
import type { Write } from '../records/write.ts';
import { runsOf } from '../testing/runs.ts';

const run = (rule: Rule | readonly Rule[], write: Write): Settlement =>
  settle(compileProgram(rulebookOf(...[rule].flat())), write);
const verdicts = (s: Settlement): string[] => s.trace.map((t) => t.verdict);

// Recommendation 2003/361/EC: the class changes exactly at 10, 50 and 250 persons; three values at each boundary
// (boundary value analysis as the ISTQB syllabus has it).
describe('size classes by the European headcount limits', () => {
  it.each<[number | null, Stored]>([
    [0, 'micro'],
    [1, 'micro'],
    [9, 'micro'],
    [10, 'small'],
    [11, 'small'],
    [49, 'small'],
    [50, 'medium'],
    [51, 'medium'],
    [249, 'medium'],
    [250, 'large'],
    [251, 'large'],
    [1_000_000, 'large'],
    [-1, null],
    [null, null],
  ])('%s persons: %s', (count, expected) => {
    const before = expected === 'micro' ? 'large' : 'micro';
    const s = run(sizeClass, update({ count: 5000, class: before }, { count }));
    expect(s.verdict).toBe('saved');
    expect(s.data['class'] ?? null).toBe(expected);
  });
});

describe('what one write does', () => {
  it('says that a rule sleeps when nothing that wakes it changed, and names what would', () => {
    const s = run(sizeClass, update({ count: 5 }, { kind: 'orchard' }));
    expect(s.trace).toMatchObject([{ verdict: 'asleep', wokenBy: ['Employee count'] }]);
    expect(s.data['class']).toBeUndefined();
  });

  it('does not take equal for changed: blank text, the same number in other spelling', () => {
    expect(verdicts(run(sizeClass, update({ count: 5 }, { count: '5.0', name: 'Alder' })))).toEqual(['asleep']);
  });

  it('runs standing rules on every new record', () => {
    const s = run(sizeClass, { ...update({}, { name: 'Fen', count: 60 }), before: null, moment: 'creating' });
    expect(s.data['class']).toBe('medium');
    expect(verdicts(run(sizeClass, { ...update({}, { name: 'Fen' }), before: null, moment: 'creating' }))).toEqual([
      'no effect',
    ]);
  });

  it.each<[string, Partial<Write>, string]>([
    ['another moment', { moment: 'opening' }, 'other moment'],
    ['another entry point', { entryPoint: 'conversion' }, 'other entry point'],
  ])('leaves a rule alone at %s', (_, more, verdict) => {
    expect(verdicts(run(sizeClass, update({ count: 1 }, { count: 300 }, more)))).toEqual([verdict]);
  });

  it('lets a backfill name a rule whatever its moments and entry points', () => {
    const s = run(
      sizeClass,
      update({ count: 60, class: 'micro' }, {}, { entryPoint: 'backfill', woken: ['size-class'] }),
    );
    expect(s.changes).toMatchObject([{ field: 'class', from: 'micro', to: 'medium', author: { rule: 'size-class' } }]);
  });

  it('acts only where the condition is true, and tells false from unknown', () => {
    const rule = { ...sizeClass, condition: 'Area > 10' };
    expect(verdicts(run(rule, update({ area: 20 }, { count: 60 })))).toEqual(['ran']);
    expect(verdicts(run(rule, update({ area: 2 }, { count: 60 })))).toEqual(['condition false']);
    expect(verdicts(run(rule, update({}, { count: 60 })))).toEqual(['condition unknown']);
  });

  it('acts only when the condition starts to hold, where the rule says so', () => {
    const rule: Rule = { ...sizeClass, condition: 'Employee count > 20', repeat: 'starts', winner: 'rule' };
    expect(verdicts(run(rule, update({ count: 5 }, { count: 60 })))).toEqual(['ran']);
    expect(verdicts(run(rule, update({ count: 55 }, { count: 60 })))).toEqual(['already held']);
  });

  it('says no effect, with the cause, never success', () => {
    const leave = { ...sizeClass, outcome: { ...(sizeClass.outcome as object), blank: { do: 'leave' } } };
    const s = run(leave, update({ count: 60, class: 'medium' }, { count: null }));
    expect(s.trace).toMatchObject([
      { verdict: 'no effect', outcomes: [{ cause: 'blank source', from: 'medium', to: 'medium' }] },
    ]);
    const same = run(sizeClass, update({ count: 60, class: 'medium' }, { count: 61 }));
    expect(same.trace).toMatchObject([{ verdict: 'no effect', outcomes: [{ cause: 'same value' }] }]);
  });

  it('stops with a message on the field where a value does not fit its type', () => {
    const s = run(sizeClass, update({}, { count: 'many', kind: 'Orchrd', nonsense: 1 }));
    expect(s.verdict).toBe('stopped');
    expect(s.messages.map((m) => [m.field, m.text])).toEqual([
      ['count', 'many is not a number.'],
      ['kind', 'Orchrd is not an option of Kind; did you mean Orchard.'],
      ['nonsense', 'There is no field nonsense.'],
    ]);
  });

  it('tells what was sent as far as it is short, and wants a record type', () => {
    const texts = (count: unknown) => run(sizeClass, update({}, { count })).messages.map((m) => m.text);
    expect(texts('x'.repeat(100))).toEqual([`${'x'.repeat(79)}… is not a number.`]);
    expect(texts({ deep: [1] })).toEqual(['{"deep":[1]} is not a number.']);
    expect(() => run(sizeClass, { ...update({}, {}), recordType: 'ship' })).toThrow('no record type ship');
  });

  it('fields that there are not are handed back, typed and woken without harm', () => {
    const s = run(sizeClass, {
      ...update({ count: 5 }, { count: 60 }),
      typed: ['nothing'],
      handBack: ['nothing'],
      relatedChanges: ['Nothing.At all'],
    });
    expect([s.verdict, s.data['class']]).toEqual(['saved', 'medium']);
  });

  it('keeps a broken rule out of the run and names it', () => {
    const program = compileProgram(rulebookOf({ ...sizeClass, condition: 'Size clas = 1' }));
    expect(program.broken.map((r) => r.rule.key)).toEqual(['size-class']);
    expect(verdicts(settle(program, update({}, { count: 1 })))).toEqual(['broken']);
  });
});

describe('who wins over a person', () => {
  const withWinner = (winner: Rule['winner']): Rule => ({ ...sizeClass, winner });
  const typedBoth = update({ count: 5, class: 'micro' }, { count: 60, class: 'large' });
  const otherOrder = { ...typedBoth, typed: ['class', 'count'] };

  it.each<[Rule['winner'], Write, Stored]>([
    ['rule', typedBoth, 'medium'],
    ['person', typedBoth, 'large'],
    ['later', typedBoth, 'large'],
    ['later', otherOrder, 'medium'],
    ['later', { ...typedBoth, typed: [] }, 'large'],
    ['later', { ...update({ count: 5, class: 'micro' }, { count: 60, class: 'micro' }), typed: [] }, 'medium'],
  ])('%s: %o', (winner, write, expected) => {
    expect(run(withWinner(winner), write).data['class']).toBe(expected);
  });

  it('holds a value set by hand on a form until the rule may write it', () => {
    const first = run(withWinner('person'), update({ count: 5, class: 'micro' }, { class: 'large' }));
    expect(first.held).toEqual(['class']);
    const second = run(withWinner('person'), { ...update({}, { count: 60 }), before: first });
    expect(second.data['class']).toBe('large');
    expect(second.trace).toMatchObject([{ verdict: 'no effect', outcomes: [{ cause: 'held by a person' }] }]);
  });

  it.each(['form:full', 'api', 'import', 'bulk'])(
    'locked: refuses a value that differs from the settled one, by %s',
    (entryPoint) => {
      const refused = run(sizeClass, update({ count: 5, class: 'micro' }, { class: 'large' }, { entryPoint }));
      expect(refused.verdict).toBe('stopped');
      expect(refused.messages).toMatchObject([{ field: 'class', rule: 'size-class' }]);
      expect(run(sizeClass, update({ count: 5 }, { count: 60, class: 'Medium' }, { entryPoint })).verdict).toBe(
        'saved',
      );
    },
  );
});

describe('the order of rules', () => {
  const rankFromArea: Rule = {
    ...sizeClass,
    key: 'rank',
    name: 'Rank',
    winner: 'rule',
    outcome: {
      source: 'Area',
      target: 'rank',
      bands: [{ result: 7 }],
      blank: { do: 'clear' },
      outside: { do: 'clear' },
    },
  };
  const countFromRank: Rule = {
    ...rankFromArea,
    key: 'count',
    name: 'Count',
    position: -1,
    outcome: { ...(rankFromArea.outcome as object), source: 'Rank', target: 'count', bands: [{ result: 70 }] },
  };

  it('comes from who reads what, not from where the author put them', () => {
    const s = run([countFromRank, sizeClass, rankFromArea], update({}, { area: 1 }));
    expect(s.trace.map((t) => t.rule)).toEqual(['rank', 'count', 'size-class']);
    expect(s.data).toMatchObject({ rank: 7, count: 70, class: 'medium' });
  });

  const band = (source: string, target: string, low: number, high: number): Rule => ({
    ...rankFromArea,
    key: `${target}-from`,
    name: `${target} from ${source}`,
    outcome: {
      source,
      target,
      bands: [
        { to: 10, result: low },
        { from: 10, result: high },
      ],
      blank: { do: 'leave' },
      outside: { do: 'leave' },
    },
  });

  it('repeats a circle until it rests, and says which rules do not settle', () => {
    const rests = run([band('Area', 'rank', 1, 20), band('Rank', 'area', 1, 20)], update({}, { area: 50 }));
    expect(rests).toMatchObject({ verdict: 'saved', data: { rank: 20, area: 20 } });
    const swings = run([band('Area', 'rank', 1, 20), band('Rank', 'area', 20, 1)], update({}, { area: 50 }));
    expect(swings.verdict).toBe('does not settle');
    expect(swings.messages.at(-1)?.text).toContain('rank from Area');
  });

  it.each<[string, Partial<Rule>]>([
    ['is off', { on: false }],
    ['is for other moments', { moments: ['creating'] }],
    ['is broken', { condition: 'Nobody = 1' }],
  ])('what a circle comes to hangs on no rule of it that %s', (_, more) => {
    const circle = [band('Area', 'rank', 1, 20), band('Rank', 'area', 20, 1)];
    // First in the order, and it would write what is told second.
    const idle: Rule = { ...band('Area', 'rank', 30, 30), key: 'idle', name: 'Idle', position: -9, ...more };
    const write = update({}, { area: 50 });
    const [without, beside] = [run(circle, write), run([idle, ...circle], write)];
    expect([beside.verdict, beside.messages]).toEqual([without.verdict, without.messages]);
    expect(beside.trace.map((t) => t.rule)).toContain('idle');
  });
});

describe('whatever rules people build', () => {
  it('a write ends with a verdict, and a trace entry for every rule', () => {
    fc.assert(
      fc.property(randomRulebook, randomWrite, (rulebook, write) => {
        const s = settle(compileProgram(rulebook), write);
        expect(['saved', 'stopped', 'does not settle']).toContain(s.verdict);
        expect(s.trace).toHaveLength(rulebook.rules.length);
        expect(s.verdict === 'saved').toBe(!s.messages.some((m) => m.severity === 'stop'));
      }),
      { numRuns: runsOf(300) },
    );
  });

  it('the same input gives the same bytes, and the order in which rules are listed decides nothing', () => {
    fc.assert(
      fc.property(randomRulebook, randomWrite, (rulebook, write) => {
        const once = canonicalJson(settle(compileProgram(rulebook), write));
        const copy = JSON.parse(
          JSON.stringify({ ...rulebook, rules: [...rulebook.rules].reverse() }),
        ) as typeof rulebook;
        expect(canonicalJson(settle(compileProgram(copy), write))).toBe(once);
      }),
      { numRuns: runsOf(200) },
    );
  });

  it('settling a settled record again, all standing rules named, changes nothing, unless a finding says that it would', () => {
    const excuses = new Set(['circle', 'two-rules-one-field', 'reads-its-own-target']);
    fc.assert(
      fc.property(randomRulebook, randomWrite, (all, write) => {
        const standing = compileProgram(all)
          .types.get('customer')!
          .rules.filter((r) => r.standing);
        const program = compileProgram({ ...all, rules: standing.map((r) => r.rule) });
        const woken = standing.map((r) => r.rule.key);
        fc.pre(!findingsOf(program).some((f) => excuses.has(f.kind)));
        const again = (data: Settlement['data']): Settlement =>
          settle(program, { ...write, before: { data, held: [] }, sent: {}, typed: [], moment: 'updating', woken });
        const first = again(settle(program, { ...write, typed: [] }).data);
        fc.pre(first.verdict === 'saved');
        expect(again(first.data).changes).toEqual([]);
      }),
      { numRuns: runsOf(200) },
    );
  });

  it('leaving the trace out changes nothing else', () => {
    fc.assert(
      fc.property(randomRulebook, randomWrite, (rulebook, write) => {
        const program = compileProgram(rulebook);
        const { trace: _, ...full } = settle(program, write);
        const { trace, ...bare } = settle(program, write, undefined, { trace: false });
        expect(trace).toEqual([]);
        expect(bare).toEqual(full);
      }),
      { numRuns: runsOf(100) },
    );
  });
});
