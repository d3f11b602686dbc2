/** Limits, locks, blanks and named rules: what is asked of a record holds whoever wrote it, and however. */
import { describe, expect, it } from 'vitest';
import type { RecordData, Rule, Rulebook, Stored } from '../document/document.ts';
import { dealBook, dealTypes, ruleOf, setTo, writeOf } from '../testing/deals.ts';
import { compileProgram } from '../compile/program.ts';
import { settle } from './settle.ts';
import type { Settlement } from './settlement.ts';
import type { Write } from '../records/write.ts';
import { RecordsSource } from '../records/record-source.ts';

const go = (rules: readonly Rule[], write: Write, more: Partial<Rulebook> = {}): Settlement => {
  const program = compileProgram(dealBook(rules, more));
  expect(program.broken.flatMap((r) => r.diagnostics.map((d) => d.message))).toEqual([]);
  return settle(program, write, new RecordsSource([]));
};
const limit = (
  field: string,
  source: string,
  grid: Readonly<Record<string, readonly string[]>>,
  otherwise: 'stop' | 'clear' | 'only',
): Rule =>
  ruleOf('deal', 'validate', {
    limits: [
      {
        field,
        source,
        grid: Object.entries(grid).map(([value, allowed]) => ({ value, allowed })),
        otherwise,
        message: 'Not here.',
      },
    ],
  });

describe('limits on options', () => {
  const byKind = limit('stage', 'Deal kind', { Install: ['Enquiry', 'Won'], Plan: ['Won'] }, 'clear');
  const setsStage = ruleOf('deal', 'derive', setTo('stage', 'if Amount > 5 then "Surveyed" else "Won"'));
  const cases: [string, Rule[], RecordData | null, Record<string, unknown>, Stored | undefined][] = [
    ['the cause changes', [byKind], { kind: 'plan', stage: 'won' }, { kind: 'install' }, 'won'],
    ['the value is sent', [byKind], { kind: 'plan', stage: 'won' }, { stage: 'enquiry' }, undefined],
    [
      'the value was stored before there was a limit',
      [byKind],
      { kind: 'plan', stage: 'enquiry' },
      { title: 'x' },
      undefined,
    ],
    ['a rule gives the value', [byKind, setsStage], { kind: 'plan' }, { amount: 9 }, undefined],
    ['a rule gives a value that is on offer', [byKind, setsStage], { kind: 'plan' }, { amount: 1 }, 'won'],
    ['nothing limits it', [byKind], { stage: 'enquiry' }, { title: 'x' }, 'enquiry'],
  ];
  it.each(cases)('a value that is not on offer is cleared: %s', (_, rules, before, sent, expected) => {
    expect(go(rules, writeOf('deal', before as Record<string, unknown>, sent)).data['stage']).toBe(expected);
    expect(go([...rules].reverse(), writeOf('deal', before as Record<string, unknown>, sent)).data['stage']).toBe(
      expected,
    );
  });

  it.each<[string, Record<string, unknown>]>([
    ['alone', { stage: 'enquiry' }],
    ['with its cause', { kind: 'plan', stage: 'enquiry' }],
    ['with its cause, in the other order', { stage: 'enquiry', kind: 'plan' }],
  ])('a program that sends a value which is not on offer is told so: %s', (_, sent) => {
    const s = go([byKind], writeOf('deal', { kind: 'plan' }, sent, { entryPoint: 'api', typed: [] }));
    expect([s.verdict, s.messages.map((m) => [m.field, m.text])]).toEqual([
      'stopped',
      [['stage', 'Enquiry is not on offer for Stage here.']],
    ]);
  });

  it.each<[string, Partial<Rule>, Record<string, unknown>, Record<string, unknown>, Stored | undefined]>([
    ['its condition holds', { condition: 'Amount > 5' }, { amount: 9 }, { title: 'x' }, undefined],
    ['its condition does not hold', { condition: 'Amount > 5' }, { amount: 2 }, { title: 'x' }, 'enquiry'],
    ['its condition is unknown', { condition: 'Amount > 5' }, {}, { title: 'x' }, 'enquiry'],
    ['its condition begins to hold', { condition: 'Amount > 5' }, { amount: 2 }, { amount: 9 }, undefined],
    ['it does not act through this entry point', { entryPoints: ['api'] }, {}, { title: 'x' }, 'enquiry'],
    ['it does not act at this moment', { moments: ['creating'] }, {}, { title: 'x' }, 'enquiry'],
    ['it is off', { on: false }, {}, { title: 'x' }, 'enquiry'],
  ])('a limit is in force where its rule acts: %s', (_, more, before, sent, stage) => {
    const rule = { ...byKind, ...more };
    const s = go([rule], writeOf('deal', { kind: 'plan', stage: 'enquiry', ...before }, sent));
    expect([s.data['stage'], s.states['stage']?.allowed]).toEqual([stage, stage === 'enquiry' ? undefined : ['won']]);
  });

  it('two limits on one field meet, for the form and for the only one left', () => {
    const other = limit('stage', 'Title', { a: ['Won', 'Surveyed'], b: ['Surveyed'] }, 'only');
    const s = go([byKind, other], writeOf('deal', { kind: 'install', stage: 'enquiry' }, { title: 'a' }));
    expect(s.states['stage']).toMatchObject({ allowed: ['won'] });
    expect(s.data['stage']).toBe('won');
    const nothingLeft = go([byKind, other], writeOf('deal', { kind: 'install', stage: 'won' }, { title: 'b' }));
    expect(nothingLeft.states['stage']).toMatchObject({ allowed: [] });
    expect([nothingLeft.verdict, nothingLeft.data['stage']]).toEqual(['saved', undefined]);
  });
});

describe('locks', () => {
  const lock = ruleOf('deal', 'validate', { locked: ['amount'] }, { condition: 'Stage = "Won"' });
  it.each<[string, RecordData | null, Record<string, unknown>, string, boolean]>([
    ['held before and holds after', { stage: 'won', amount: 1 }, { amount: 2 }, 'stopped', true],
    ['begins with this write', { stage: 'enquiry', amount: 1 }, { stage: 'won', amount: 2 }, 'saved', false],
    ['ends with this write', { stage: 'won', amount: 1 }, { stage: 'enquiry', amount: 2 }, 'saved', false],
    ['a new record has no before', null, { stage: 'won', amount: 2 }, 'saved', false],
  ])('a lock with a condition: %s', (_, before, sent, verdict, locked) => {
    for (const moment of ['editing', before ? 'updating' : 'creating'] as const) {
      const s = go([lock], writeOf('deal', before as Record<string, unknown> | null, sent, { moment }));
      expect([s.verdict, s.states['amount']?.locked !== undefined]).toEqual([verdict, locked]);
    }
  });

  it('a default that is locked fills the blank and refuses anything else', () => {
    const fill = ruleOf('deal', 'default', { target: 'cost', value: '750' }, { winner: 'locked' });
    expect(go([fill], writeOf('deal', null, { title: 'x' })).data['cost']).toBe(750);
    expect(go([fill], writeOf('deal', null, { cost: 750 })).verdict).toBe('saved');
    const refused = go([fill], writeOf('deal', null, { cost: 1 }));
    expect([refused.verdict, refused.data['cost'], refused.messages[0]?.field]).toEqual(['stopped', 750, 'cost']);
  });
});

describe('blanks, defaults and what is not named', () => {
  const required = ruleOf('deal', 'validate', { required: ['title'] });
  it.each(['', ' ', '\t\n', '\u00a0', '\u200b\ufeff', '\u2060', '\u3164'])('%o shows nothing: it is blank', (title) => {
    const s = go([required], writeOf('deal', { title: 'x' }, { title }));
    expect([s.verdict, s.data['title']]).toEqual(['stopped', undefined]);
    expect(go([required], writeOf('deal', null, { title: `${title}a` })).verdict).toBe('saved');
  });

  it.each<[Record<string, unknown>, Stored]>([
    [{}, true],
    [{ stop: false }, false],
    [{ stop: null }, undefined as unknown as Stored],
    [{ stop: true }, true],
  ])('a default fills a yes/no on a new record unless it was sent: %o', (sent, expected) => {
    const fill = ruleOf('customer', 'default', { target: 'stop', value: 'true' });
    expect(go([fill], writeOf('customer', null, { name: 'Fen', ...sent })).data['stop']).toBe(expected);
    expect(go([fill], writeOf('customer', { name: 'Fen', stop: false }, { name: 'Moor' })).data['stop']).toBe(false);
  });

  it('values of fields that the rulebook does not name are carried along', () => {
    const s = go([], writeOf('deal', { title: 'x', retired: 'kept', older: ['a'] }, { title: 'y' }));
    expect(s.data).toEqual({ title: 'y', retired: 'kept', older: ['a'] });
    expect(s.changes.map((c) => c.field)).toEqual(['title']);
  });

  it('a backfill or request may name a rule that checks, whatever its moments and entry points', () => {
    const check = ruleOf(
      'deal',
      'validate',
      { checks: [{ hold: 'should', formula: 'Amount > 1', message: 'Too small.', field: 'amount' }] },
      { moments: ['creating'], entryPoints: ['api'] },
    );
    const write = writeOf('deal', { amount: 1 }, {}, { entryPoint: 'backfill' });
    expect(go([check], write).messages).toEqual([]);
    expect(go([check], { ...write, woken: [check.key] }).messages.map((m) => m.text)).toEqual(['Too small.']);
  });
});

describe('held values', () => {
  const rule = ruleOf('deal', 'derive', setTo('cost', 'Amount * 2'), { winner: 'person' });
  const before = { data: { amount: 1, cost: 5 }, held: ['cost'] };
  it.each<[string, Partial<Write>, readonly string[]]>([
    ['a program writes it', { entryPoint: 'api', sent: { cost: 7 } }, []],
    ['a program sends what is there', { entryPoint: 'api', sent: { cost: 5 } }, ['cost']],
    ['a program asks to hold it', { entryPoint: 'api', sent: { cost: 7 }, typed: ['cost'], hold: true }, ['cost']],
    ['a rule of another record writes it', { entryPoint: 'rule', sent: { cost: 7 } }, []],
    ['a person types it again', { sent: { cost: 7 }, typed: ['cost'] }, ['cost']],
  ])('%s', (_, more, held) => {
    expect(
      go([rule], { ...writeOf('deal', null, {}, { typed: [] }), before, moment: 'updating', ...more }).held,
    ).toEqual(held);
  });

  it('a rule of another record does not write over what a person holds, where it says that the person wins', () => {
    const write = {
      ...writeOf('deal', null, { cost: 7 }, { entryPoint: 'rule', typed: [] }),
      before,
      moment: 'updating' as const,
    };
    const given = (winner: Rule['winner']): Write => ({ ...write, writtenBy: { cost: { rule: 'other', winner } } });
    expect(go([], given('person')).data['cost']).toBe(5);
    const over = go([], given('rule'));
    expect([over.data['cost'], over.held, over.changes[0]?.author]).toEqual([7, [], { by: 'rule', rule: 'other' }]);
  });
});

describe('circles', () => {
  const copies = (n: number): { rules: Rule[]; more: Partial<Rulebook> } => {
    const names = Array.from({ length: n }, (_, i) => `F${i}`);
    const fields = names.map((name) => ({ key: name.toLowerCase(), name, type: 'number' }));
    const recordTypes = dealTypes.map((t) => (t.key === 'deal' ? { ...t, fields: [...t.fields, ...fields] } : t));
    // Each takes the larger of its own and its neighbour's: the largest goes all the way round.
    const rules = names.map((name, i) =>
      ruleOf(
        'deal',
        'derive',
        setTo(name.toLowerCase(), `max(first filled(${name}, 0), first filled(F${(i + 1) % n}, 0))`),
        {
          position: i,
        },
      ),
    );
    return { rules, more: { recordTypes } };
  };

  it('twenty rules that copy each other settle, however many rounds it takes', () => {
    const { rules, more } = copies(20);
    const s = go(rules, writeOf('deal', { title: 'x' }, { f0: 7 }), more);
    expect([s.verdict, s.data['f1'], s.data['f19']]).toEqual(['saved', 7, 7]);
  });

  it('rules that swing, or go on without end, do not settle; the message names the values', () => {
    const swing = [
      ruleOf('deal', 'derive', setTo('cost', 'if Amount = 1 then 2 else 1')),
      ruleOf('deal', 'derive', setTo('amount', 'Cost')),
    ];
    const s = go(swing, writeOf('deal', { amount: 5 }, { amount: 1 }));
    expect(s.verdict).toBe('does not settle');
    expect(s.messages[0]?.text).toMatch(
      /do not settle: Rule \d+, Rule \d+\. Amount is .*(1|2).* in turn; Cost is|Cost is .* in turn/,
    );
    const grow = [
      ruleOf('deal', 'derive', setTo('cost', 'Amount + 1')),
      ruleOf('deal', 'derive', setTo('amount', 'Cost')),
    ];
    const g = go(grow, writeOf('deal', { amount: 5 }, { amount: 1 }));
    expect([g.verdict, /and so on|in turn/.test(g.messages[0]?.text ?? '')]).toEqual(['does not settle', true]);
  });
});

describe('rules that read what they write', () => {
  const lower = ruleOf('contact', 'derive', setTo('email', 'lower case(Email)'));
  it('wake when somebody else changes it, once, and not by their own write', () => {
    const s = go([lower], writeOf('contact', { email: 'a@x.pt' }, { email: 'B@X.PT' }));
    expect([s.data['email'], s.trace[0]]).toMatchObject(['b@x.pt', { verdict: 'ran', wokenBy: ['Email'] }]);
    expect(go([lower], writeOf('contact', { email: 'a@x.pt' }, { last: 'Fen' })).trace[0]?.verdict).toBe('asleep');
    const grows = ruleOf('deal', 'derive', setTo('amount', 'Amount + 1'));
    expect(go([grows], writeOf('deal', { amount: 5 }, { amount: 1 })).data['amount']).toBe(2);
  });

  it('two of them on one field run one after the other, in the order of the author', () => {
    const squeezed = ruleOf('contact', 'derive', setTo('last', 'squeeze(Last name)'));
    const titled = ruleOf('contact', 'derive', setTo('last', 'title case(Last name)'));
    const s = go([squeezed, titled], writeOf('contact', null, { last: '  ana   fen ' }));
    expect([s.verdict, s.data['last']]).toEqual(['saved', 'Ana Fen']);
    expect(s.trace.map((t) => t.verdict)).toEqual(['ran', 'ran']);
  });
});

describe('what rules tell', () => {
  const total = ruleOf('deal', 'derive', setTo('cost', 'Amount * 2'));
  const tells = ruleOf(
    'deal',
    'validate',
    {},
    {
      condition: 'Stage = "Won"',
      notify: [{ channel: 'email', to: '"a@b.example"', subject: 'Cost {Cost}', body: '{Customer.Name}' }],
    },
  );
  it('is said of the settled record, wherever the rule stands, and wakes nothing', () => {
    const first = { ...tells, position: -1 };
    const s = go([first, total], writeOf('deal', { amount: 1, cost: 2 }, { stage: 'won', amount: 9 }));
    expect(s.notifications.map((n) => n.subject)).toEqual(['Cost 18']);
    const program = compileProgram(dealBook([first, total])).types.get('deal')!;
    expect(program.rules.map((r) => r.rule.key)).toEqual([total.key, first.key]);
    const [compiled] = program.rules.filter((r) => r.rule.key === first.key);
    expect(compiled!.wakes.map((slot) => program.slots[slot]!.field.key)).toEqual(['stage']);
    expect(compiled!.told.related.map((r) => r.text)).toEqual(['Customer.Name']);
    expect(go([first, total], writeOf('deal', { amount: 1, stage: 'won' }, { amount: 9 })).notifications).toEqual([]);
  });

  it('a condition that starts to hold with the clock sees the clock of the last write', () => {
    const due = ruleOf('deal', 'derive', setTo('title', '"Late"'), {
      condition: 'Signing date < today()',
      repeat: 'starts',
      wakesOn: ['amount'],
    });
    const write = (now: string | undefined): Write => ({
      ...writeOf('deal', null, { amount: 2 }),
      moment: 'updating',
      before: { data: { signed: '2026-05-01', amount: 1 }, held: [], ...(now ? { now } : {}) },
    });
    expect(go([due], write('2026-04-30T10:00:00+01:00')).data['title']).toBe('Late');
    expect(go([due], write('2026-05-02T10:00:00+01:00')).data['title']).toBeUndefined();
  });
});
