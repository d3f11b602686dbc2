/**
 * What a form shows is what is stored, and history tells all of it: random rules, random acts on the form's own state,
 * against a server that settles on its own. A seed that failed is kept as a case: PARITY_SEED and PARITY_RUNS say others.
 */
import type { Rule, Rulebook, Stored } from '@rigid-rule/core/document';
import { sameStored } from '@rigid-rule/core/language';
import { overruled, storedOf } from '@rigid-rule/core/related';
import fc from 'fast-check';
import { beforeAll, expect, it, vi } from 'vitest';
import { rulebookOf, sizeClass } from '../../../../../core/src/testing/customers.ts';
import { randomRulebook, rankTable } from '../../../../../core/src/testing/random-rulebooks.ts';
import { Bench } from '../rules/bench/bench.svelte.ts';
import type { RecordForm } from './form.svelte.ts';
import { formInMemory, MemoryServer, now } from './memory-server.ts';
import { runsOf } from '../../../../../core/src/testing/runs.ts';

const runs = process.env['PARITY_RUNS'] ? Number(process.env['PARITY_RUNS']) : runsOf(1000);
const seed = process.env['PARITY_SEED'];

beforeAll(() => {
  vi.useFakeTimers({ now: new Date('2026-05-03T08:00:00Z'), toFake: ['Date'] });
  return () => vi.useRealTimers();
});

type Act =
  | { readonly do: 'type'; readonly field: string; readonly value: unknown }
  | { readonly do: 'type back' | 'hand back'; readonly field: string }
  | { readonly do: 'other'; readonly sent: Readonly<Record<string, Stored>> }
  | { readonly do: 'release'; readonly rule: number }
  | { readonly do: 'save' | 'put back' };

const field = fc.constantFrom('name', 'count', 'class', 'kind', 'area', 'rank');
const values: Readonly<Record<string, readonly unknown[]>> = {
  name: ['Alder', 'Fen', ' Alder ', null, ''],
  count: [5, '5', 60, '1,250', null, 'many', 0],
  class: ['micro', 'Small', 'large', null, 'huge'],
  kind: ['orchard', 'Vineyard', null],
  area: [1.25, '1.2', -3, null, 0],
  rank: [3, '3', 77, null, 'x'],
};
const typing = field.chain((key) =>
  fc.constantFrom(...values[key]!).map((value): Act => ({ do: 'type', field: key, value })),
);
const act: fc.Arbitrary<Act> = fc.oneof(
  { arbitrary: typing, weight: 8 },
  { arbitrary: field.map((key): Act => ({ do: 'type back', field: key })), weight: 2 },
  { arbitrary: field.map((key): Act => ({ do: 'hand back', field: key })), weight: 1 },
  {
    arbitrary: fc.constantFrom<Act>({ do: 'other', sent: { count: 40 } }, { do: 'other', sent: { kind: 'orchard' } }),
    weight: 1,
  },
  { arbitrary: fc.nat({ max: 7 }).map((rule): Act => ({ do: 'release', rule })), weight: 1 },
  { arbitrary: fc.constant<Act>({ do: 'save' }), weight: 4 },
  { arbitrary: fc.constant<Act>({ do: 'put back' }), weight: 1 },
);

/** Half of the sittings begin with what has to be filled in, so that more of them come to be saved. */
const acts: fc.Arbitrary<readonly Act[]> = fc
  .tuple(fc.boolean(), fc.array(act, { minLength: 1, maxLength: 12 }))
  .map(([named, more]) => [...(named ? [{ do: 'type', field: 'name', value: 'Alder' } as const] : []), ...more]);

/** Moments of every mixture, the blank form's opening among them. */
const book: fc.Arbitrary<Rulebook> = fc
  .tuple(
    randomRulebook,
    fc.array(fc.subarray<Rule['moments'][number]>(['opening', 'editing', 'creating', 'updating'], { minLength: 1 }), {
      minLength: 8,
      maxLength: 8,
    }),
  )
  .map(([rulebook, moments]) => ({
    ...rulebook,
    rules: rulebook.rules.map((r, i) => ({ ...r, moments: moments[i]! })),
  }));

const toggled = (rulebook: Rulebook, at: number): Rulebook => ({
  ...rulebook,
  rules: rulebook.rules.map((r, i) => (i === at ? { ...r, on: !r.on } : r)),
});

class Sitting {
  private readonly server: MemoryServer;
  private rulebook: Rulebook;
  /** By which the form goes, whatever is released meanwhile. */
  private readonly opened: Rulebook;
  private form: RecordForm;

  constructor(rulebook: Rulebook) {
    this.rulebook = this.opened = rulebook;
    this.server = new MemoryServer(rulebook, 'customer');
    this.form = formInMemory(rulebook, { recordType: 'customer', form: 'full' }, 1, this.server);
  }

  async do(a: Act): Promise<void> {
    const { form, server } = this;
    switch (a.do) {
      case 'type':
        form.commit(a.field, a.value);
        break;
      case 'type back':
        form.commit(a.field, form.starting(a.field));
        expect(form.typedValue(a.field)).toBeUndefined();
        break;
      case 'hand back':
        if (form.isHeld(a.field)) form.handBack(a.field);
        break;
      case 'other':
        if (form.stored) server.change(form.stored.id, a.sent);
        break;
      case 'release':
        this.rulebook = toggled(this.rulebook, a.rule);
        server.releases(this.rulebook);
        break;
      case 'put back':
        form.putBack();
        break;
      case 'save':
        this.checkBench();
        await this.save();
    }
    this.checkForm();
  }

  /** What is in sight agrees with itself. */
  private checkForm(): void {
    const { form } = this;
    const { data } = form.settlement;
    for (const f of form.recordType.fields) {
      const typed = form.typedValue(f.key);
      const stored = typed && storedOf(typed.value, f);
      // A typed value stands, or the form says what became of it.
      const value = data[f.key] ?? null;
      if (stored !== undefined && overruled(typed, f, value) === undefined && !sameStored(value, stored))
        throw new Error(`${f.key} shows something else than was typed, and does not say so`);
    }
  }

  /** The bench says of the same record, tried in the same way, what the server would store: by a form and by the API. */
  private checkBench(): void {
    const { form, server } = this;
    // As it is by now: somebody else may have saved since the form was opened.
    const stored = form.stored && server.records.get(form.stored.id)!;
    const sample = stored ? { id: stored.id, data: stored.data } : undefined;
    const bench = new Bench('customer', {
      program: () => server.program,
      samples: {
        total: () => (sample ? 1 : 0),
        at: () => sample,
        first: () => (sample ? [sample] : []),
        source: server.world(),
      },
      users: [],
    });
    bench.clock = now;
    bench.held = stored?.held ?? [];
    bench.tried = form.typed;
    const sent = Object.fromEntries(form.typed.map((t) => [t.key, t.value]));
    for (const entryPoint of ['form:full', 'api']) {
      bench.entryPoint = entryPoint;
      const typed = entryPoint === 'api' ? [] : form.typed.map((t) => t.key);
      const request = { ...(stored ? { id: stored.id } : {}), form: 'full', sent, typed, woken: [], handBack: [] };
      const { verdict, data, messages, states, held } = server.settled(request, entryPoint);
      const { settlement } = bench;
      const said = [settlement.verdict, settlement.data, settlement.messages, settlement.states, settlement.held];
      expect(said, `the bench, through ${entryPoint}`).toEqual([verdict, data, messages, states, held]);
    }
  }

  private async save(): Promise<void> {
    const { form, server } = this;
    if (!form.dirty) return;
    // A save waits for answers that are under way; what came of them is what is in sight when it goes.
    await form.answerAsks();
    const [shown, saving, before] = [form.settlement, form.saving, form.stored];
    let answer = await form.save();
    let seen = saving;
    if (answer.outcome === 'differs') {
      expect(answer.differences.length).toBeGreaterThan(0);
      // Nothing was stored, and nothing of what was typed is lost.
      expect(form.stored).toBe(before);
      if (answer.settlement.verdict !== 'saved') return;
      seen = answer.settlement;
      answer = await form.save({ settlement: seen, effects: answer.effects });
    }
    if (answer.outcome === 'changed meanwhile') {
      form.goOnFrom(answer.record);
      return;
    }
    expect(answer.outcome).not.toBe('differs');
    if (answer.outcome !== 'saved') return;
    const stored = server.records.get(answer.id)!;
    const type = server.program.types.get('customer')!;
    const after = form.settlement.data;
    for (const { key } of form.recordType.fields) {
      const now = stored.data[key] ?? null;
      if (!sameStored(now, seen.data[key] ?? null))
        throw new Error(`${key}: stored ${String(now)}, seen ${String(seen.data[key])}`);
      if (!sameStored(now, form.before(key))) throw new Error(`${key} is not what the form goes on from`);
      // What acts in every write on a form acts at once on what was saved, by the release that the form goes on with; that
      // is shown as not saved yet.
      const again = this.opened.rules.some((r) => r.on && r.repeat === 'every' && r.moments.includes('editing'));
      if (!again && !sameStored(now, after[key] ?? null)) throw new Error(`${key} is shown otherwise after saving`);
      if (seen !== saving || sameStored(now, shown.data[key] ?? null)) continue;
      // What a form does not show beforehand is the work of a rule that does not act while one types, or hangs on such.
      const active = type.rules.filter((r) => r.rule.on && r.compiles);
      const silent = active.some((r) => !r.rule.moments.includes('editing'));
      // Or of a circle, or a rule that moves its own field on, that goes on where a rule that acts as one types does not.
      const moves = active.some((r) => r.circle >= 0 || r.writes.some((slot) => r.wakes.includes(slot)));
      const saved = before ? 'updating' : 'creating';
      const typedOnly = active.some((r) => r.rule.moments.includes('editing') && !r.rule.moments.includes(saved));
      expect(silent || (moves && typedOnly), `${key} comes out otherwise than it was shown`).toBe(true);
    }
    // History leads from what was to what is.
    const changes = server.history.get(answer.id)!.at(-1)!;
    const led: Record<string, Stored> = { ...before?.data };
    for (const c of changes) {
      expect(sameStored(c.from, led[c.field] ?? null), `history of ${c.field}`).toBe(true);
      led[c.field] = c.to;
    }
    for (const { key } of form.recordType.fields) {
      // On a new record a yes/no begins with no, of which history says nothing.
      if (before) expect(sameStored(led[key] ?? null, stored.data[key] ?? null), `history leads to ${key}`).toBe(true);
    }
  }
}

it.each<[string, Rulebook, Act[]]>([
  [
    'a rule of forms alone takes back what was typed into a new record',
    rulebookOf({ ...sizeClass, moments: ['editing'], winner: 'rule' }),
    [{ do: 'type', field: 'name', value: 'Alder' }, { do: 'type', field: 'class', value: 'micro' }, { do: 'save' }],
  ],
  [
    'a form goes on with its release after a save through the next, which has one rule less',
    rulebookOf({ ...sizeClass, moments: ['editing', 'creating', 'updating'], repeat: 'every', winner: 'rule' }),
    [
      { do: 'release', rule: 0 },
      { do: 'type', field: 'class', value: 'micro' },
      { do: 'type', field: 'name', value: 'Alder' },
      { do: 'save' },
    ],
  ],
  [
    'a long table is looked up by a rule that acts only when a record is saved',
    {
      ...rulebookOf({
        ...sizeClass,
        kind: 'map',
        moments: ['creating', 'updating'],
        winner: 'rule',
        outcome: {
          source: { by: 'table', table: rankTable.key, keys: { number: 'Employee count' } },
          onto: '',
          outputs: [{ value: 'size', target: 'class', way: 'replace' }],
          blank: { do: 'leave' },
          none: { do: 'clear' },
          several: { do: 'leave' },
        },
      }),
      tables: [rankTable],
    },
    [
      { do: 'type', field: 'count', value: 5 },
      { do: 'type', field: 'name', value: 'Alder' },
      { do: 'save' },
      { do: 'type', field: 'count', value: 60 },
      { do: 'save' },
    ],
  ],
])('%s', async (_, rulebook, acts) => {
  const sitting = new Sitting(rulebook);
  for (const a of acts) await sitting.do(a);
});

it('what is shown is what is stored, whatever is done', async () => {
  await fc.assert(
    fc.asyncProperty(book, acts, async (rulebook, done) => {
      const sitting = new Sitting(rulebook);
      for (const a of done) await sitting.do(a);
    }),
    { numRuns: runs, ...(seed === undefined ? {} : { seed: Number(seed) }) },
  );
}, 600_000);
