/** What each kind does in a write, told by needs that administrators bring. */
import { describe, expect, it } from 'vitest';
import { compileProgram } from '../program.ts';
import { settle } from '../../settle/settle.ts';
import type { Settlement } from '../../settle/settlement.ts';
import type { Write } from '../../records/write.ts';
import type { Rule } from '../../document/document.ts';
import { rulebookOf, sizeClass, update } from '../../testing/customers.ts';

const rule = (kind: string, outcome: unknown, more: Partial<Rule> = {}): Rule => ({
  ...sizeClass,
  key: kind,
  name: kind,
  kind,
  winner: 'rule',
  outcome,
  ...more,
});
const run = (r: Rule | readonly Rule[], write: Write): Settlement => {
  const program = compileProgram(rulebookOf(...[r].flat()));
  expect(program.broken.flatMap((b) => b.diagnostics.map((d) => d.message))).toEqual([]);
  return settle(program, write);
};
const create = (sent: Record<string, unknown>): Write => ({ ...update({}, sent), before: null, moment: 'creating' });
const problems = (r: Rule): string[] =>
  compileProgram(rulebookOf(r))
    .types.get('customer')!
    .rules[0]!.diagnostics.map((d) => d.code);

describe('who is told, and when', () => {
  const notice = { channel: 'email', to: '"a@b.example"', subject: 'Hello', body: '' } as const;
  const nothing = { checks: [], required: [], hidden: [], locked: [], limits: [] };
  const told = (more: Partial<Rule>, write: Write): [string, number] => {
    const r = rule('validate', nothing, { condition: 'Rank > 5', notify: [notice], ...more });
    const s = run(r, write);
    return [s.trace[0]!.verdict, s.notifications.length];
  };
  const demanding = { outcome: { ...nothing, required: ['name'] } };
  const named = { name: 'Fen' };

  it.each<[string, Partial<Rule>, Write, string, number]>([
    ['asks nothing, woken', {}, update({ rank: 1 }, { rank: 6 }), 'ran', 1],
    ['asks nothing, another field changed', {}, update({ rank: 6 }, { count: 2 }), 'asleep', 0],
    ['asks nothing, condition false', {}, update({ rank: 1 }, { rank: 2 }), 'condition false', 0],
    ['asks nothing, held before', { repeat: 'starts' }, update({ rank: 6 }, { rank: 7 }), 'already held', 0],
    ['asks something, woken', demanding, update({ rank: 1, ...named }, { rank: 6 }), 'ran', 1],
    ['asks something, another field changed', demanding, update({ rank: 6, ...named }, { count: 2 }), 'ran', 0],
    [
      'asks something, held before',
      { ...demanding, repeat: 'starts' },
      update({ rank: 6, ...named }, { rank: 7 }),
      'ran',
      0,
    ],
    ['while a form is filled in', {}, { ...update({ rank: 1 }, { rank: 6 }), moment: 'editing' }, 'no effect', 0],
  ])('a rule that %s', (_, more, write, verdict, count) => {
    expect(told({ moments: ['editing', 'creating', 'updating'], ...more }, write)).toEqual([verdict, count]);
  });
});

describe('derive', () => {
  const steps = (...list: object[]): unknown => ({ steps: list });

  it('works a value out in steps, each seeing the ones before it, scratch values too', () => {
    const r = rule(
      'derive',
      steps(
        { scratch: 'Heads a hectare', formula: 'Employee count / Area' },
        { target: 'rank', formula: 'Heads a hectare * 10' },
        { target: 'name', formula: '"Rank " + string(Rank)' },
      ),
    );
    const s = run(r, update({ area: 4 }, { count: 10 }));
    expect(s.data).toMatchObject({ rank: 25, name: 'Rank 25' });
    expect(s.trace).toMatchObject([
      { verdict: 'ran', wokenBy: ['Employee count'], outcomes: [{ field: 'rank', to: 25 }, { field: 'name' }] },
    ]);
  });

  it('clears on a blank result, or leaves what stands', () => {
    const by = (blank: string) => rule('derive', steps({ target: 'rank', formula: 'Employee count / Area', blank }));
    expect(run(by('clear'), update({ rank: 3, area: 0 }, { count: 10 })).data['rank']).toBeUndefined();
    const left = run(by('leave'), update({ rank: 3, area: 0 }, { count: 10 }));
    expect(left.data['rank']).toBe(3);
    expect(left.trace).toMatchObject([{ verdict: 'no effect', outcomes: [{ cause: 'blank result' }] }]);
  });

  it.each<[string, string[]]>([
    ['"Large"', []],
    ['"Larg"', ['option.unknown']],
    ['if Rank > 3 then "Large" else "Smal"', ['option.unknown']],
    ['first filled(Size class, "Medum")', ['option.unknown']],
    ['if Rank > 3 then "" else null', []],
  ])('an option that %s gives is known, or named as misspelt', (formula, codes) => {
    expect(problems(rule('derive', steps({ target: 'class', formula })))).toEqual(codes);
  });

  it('tells the parts of its condition as they were when it acted, not as it left them', () => {
    const r = rule('derive', steps({ target: 'rank', formula: '7' }), {
      condition: 'is blank(Rank) and Employee count > 1',
    });
    const { trace } = run(r, update({ count: 1 }, { count: 5 }));
    expect(trace[0]).toMatchObject({ verdict: 'ran', parts: [{ value: true }, { value: true }] });
  });

  it('keeps the previous value of a field, and only when that field changed', () => {
    const r = rule('derive', steps({ target: 'rank', formula: 'previous.Employee count' }), { wakesOn: ['count'] });
    expect(run(r, update({ count: 7 }, { count: 10 })).data['rank']).toBe(7);
    expect(run(r, update({ count: 7, rank: 1 }, { area: 10 })).data['rank']).toBe(1);
  });

  it('rounds to the scale of its target and stops where a value does not fit', () => {
    const r = rule('derive', steps({ target: 'rank', formula: 'Area / 2' }));
    expect([5, 7].map((area) => run(r, update({}, { area })).data['rank'])).toEqual([2, 4]); // half to even
    const option = rule('derive', steps({ target: 'class', formula: 'if Area > 5 then "Hu" + "ge" else "Small"' }));
    expect(run(option, update({}, { area: 9 })).messages).toMatchObject([
      { field: 'class', rule: 'derive', severity: 'stop' },
    ]);
  });

  it('that asks for the clock is an event rule, and gets it from the write', () => {
    const r = rule('derive', steps({ target: 'name', formula: 'string(today())' }), { wakesOn: ['count'] });
    const compiled = compileProgram(rulebookOf({ ...r, wakesOn: undefined as never })).types.get('customer')!.rules[0]!;
    expect(compiled).toMatchObject({ standing: false, eventBecause: 'it asks for the clock' });
    expect(run(r, update({}, { count: 1 })).data['name']).toBe('2026-05-03');
  });

  it.each([
    [{ steps: [] }, 'outcome.empty'],
    [steps({ target: 'gone', formula: '1' }), 'rule.no-target'],
    [steps({ target: 'rank', formula: 'Nmae' }), 'name.unknown'],
    [steps({ target: 'rank', formula: 'Name' }), 'type.result'],
    [steps({ target: 'name', formula: 'today()' }), 'type.text'],
    [steps({ target: 'name', formula: 'now() - now()' }), 'type.text'],
  ])('%o: %s', (outcome, code) => expect(problems(rule('derive', outcome))).toContain(code));
});

describe('default', () => {
  const r = rule('default', { target: 'kind', value: '"Orchard"' });
  it('fills only what is blank and was not sent, not even as blank', () => {
    expect(run(r, create({ name: 'Fen' })).data['kind']).toBe('orchard');
    expect(run(r, create({ name: 'Fen', kind: 'vineyard' })).data['kind']).toBe('vineyard');
    expect(run(r, create({ name: 'Fen', kind: null })).data['kind']).toBeUndefined();
    expect(run(r, create({ name: 'Fen', kind: null })).trace).toMatchObject([
      { verdict: 'no effect', outcomes: [{ cause: 'filled already' }] },
    ]);
  });
  it('leaves existing records alone: nothing wakes it', () => {
    expect(run(r, update({}, { count: 4 })).trace).toMatchObject([{ verdict: 'asleep' }]);
  });
});

describe('validate', () => {
  const limits = rule(
    'validate',
    {
      checks: [
        { hold: 'must', formula: 'Area <= 50', message: 'At most 50.', field: 'area' },
        { hold: 'should', formula: 'Area <= 25', message: 'More than 25: ask first.', field: 'area' },
      ],
      required: ['kind'],
      hidden: ['rank'],
    },
    { condition: 'Employee count > 10' },
  );

  it('says everything at once, each on its field, and stops only what must hold', () => {
    const stopped = run(limits, update({ count: 20 }, { area: 60 }));
    expect(stopped.verdict).toBe('stopped');
    expect(stopped.messages.map((m) => [m.field, m.severity, m.text])).toEqual([
      ['kind', 'stop', 'Kind has to be filled in.'],
      ['area', 'stop', 'At most 50.'],
      ['area', 'warn', 'More than 25: ask first.'],
    ]);
    expect(stopped.states).toMatchObject({ kind: { required: true }, rank: { hidden: 'validate' } });
    const warned = run(limits, update({ count: 20, kind: 'orchard' }, { area: 30 }));
    expect(warned).toMatchObject({ verdict: 'saved', messages: [{ severity: 'warn' }] });
  });

  it('asks nothing while its condition does not hold, and unknown violates nothing', () => {
    expect(run(limits, update({ count: 5 }, { area: 60 }))).toMatchObject({
      verdict: 'saved',
      messages: [],
      trace: [{ verdict: 'condition false' }],
    });
    expect(run(limits, update({ count: 20, kind: 'orchard' }, { name: 'Fen' })).verdict).toBe('saved');
  });

  it('looks at the settled record, whatever rules wrote it', () => {
    const derive = rule('derive', { steps: [{ target: 'area', formula: 'Employee count * 10' }] });
    expect(run([limits, derive], update({ kind: 'orchard' }, { count: 11 })).messages).toMatchObject([
      { text: 'At most 50.' },
      { severity: 'warn' },
    ]);
  });
});
