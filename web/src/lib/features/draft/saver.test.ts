/** Nothing that was edited is ever dropped: sent, refused with its reason, or shown beside what others did. */
import { toParts, type Operation, type PartRef, type Rulebook } from '@rigid-rule/core/document';
import { firstRelease } from '@rigid-rule/demo';
import fc from 'fast-check';
import { runsOf } from '../../../../../core/src/testing/runs.ts';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Draft, type DraftRights } from './draft.svelte.ts';
import { keepIn, type KeptEdits } from './kept-edits.ts';
import type { VersionedPart } from '$lib/draft-protocol.ts';

interface SentEdit extends PartRef {
  readonly id: string;
  readonly version: number;
  readonly operations: readonly Operation[];
}

const lost = (): Error => new Error('Failed to fetch');

/** A server of drafts that clashes by version, does no edit twice, and can be away, slow, or refuse names. */
class DraftServer {
  readonly bodies = new Map<string, { version: number; name: string }>();
  private readonly done = new Map<string, number>();
  /** Requests that are on their way. */
  private readonly held: ((ends: 'taken' | 'taken, answer lost' | 'lost') => void)[] = [];
  mode: 'here' | 'away' | 'answer lost' | 'slow' = 'here';

  send = (text: string): Promise<Response> => {
    if (this.mode === 'away') return Promise.reject(lost());
    const { edits } = JSON.parse(text) as { edits: readonly SentEdit[] };
    if (this.mode === 'slow')
      return new Promise((answered, failed) => {
        this.held.push((ends) => {
          const answer = ends === 'lost' ? undefined : this.take(edits);
          if (answer && ends === 'taken') answered(answer);
          else failed(lost());
        });
      });
    const answer = this.take(edits);
    return this.mode === 'answer lost' ? Promise.reject(lost()) : Promise.resolve(answer);
  };

  /** What is on its way comes to its end. */
  end(ends: 'taken' | 'taken, answer lost' | 'lost'): void {
    for (const held of this.held.splice(0)) held(ends);
  }

  private take(edits: readonly SentEdit[]): Response {
    const open = edits.filter((e) => !this.done.has(e.id));
    const name = (e: SentEdit): string => {
      const { value } = e.operations.at(-1) as { value: string | { name: string } };
      return typeof value === 'string' ? value : value.name;
    };
    if (open.some((e) => name(e) === 'refused')) return Response.json({ message: 'Not that name.' }, { status: 400 });
    const clashes = open.filter((e) => this.bodies.get(e.key)!.version !== e.version);
    if (clashes.length > 0)
      return Response.json(
        { clashes: clashes.map((e) => ({ kind: e.kind, key: e.key, by: 'Ada', part: this.part(e.key) })) },
        { status: 409 },
      );
    for (const e of open) this.set(e.key, name(e));
    for (const e of open) this.done.set(e.id, this.bodies.get(e.key)!.version);
    return Response.json({
      changes: this.done.size,
      versions: edits.map((e) => ({ kind: e.kind, key: e.key, version: this.done.get(e.id)! })),
    });
  }

  set(key: string, name: string): void {
    this.bodies.set(key, { version: (this.bodies.get(key)?.version ?? 0) + 1, name });
  }

  part(key: string): VersionedPart {
    const { version, name } = this.bodies.get(key)!;
    const part = parts.find((p) => p.key === key)!;
    return { ...part, version, body: { ...(part.body as object), name } };
  }

  load = (): VersionedPart[] => [...this.bodies.keys()].map((key) => this.part(key));
}

const rules = firstRelease.rules.slice(0, 3);
const parts = toParts({ ...firstRelease, rules } as Rulebook).filter((p) => p.kind === 'rule');
const keys = rules.map((r) => r.key);
const ref = (key: string): PartRef => ({ kind: 'rule', key });

/** Local storage, and pages that live or are gone. */
class Browser {
  private readonly items = new Map<string, string>();
  private readonly alive = new Set<string>();
  readonly storage = {
    getItem: (k: string) => this.items.get(k) ?? null,
    setItem: (k: string, v: string) => void this.items.set(k, v),
    removeItem: (k: string) => void this.items.delete(k),
    key: (i: number) => [...this.items.keys()][i] ?? null,
    get length(): number {
      return 0;
    },
  };
  constructor() {
    Object.defineProperty(this.storage, 'length', { get: () => this.items.size });
  }
  private pages = 0;

  open(server: DraftServer, owner = 'tomas', more: Partial<DraftRights> = {}): Draft {
    const page = `page ${++this.pages}`;
    this.alive.add(page);
    const kept: KeptEdits = keepIn(this.storage, owner, page, (name) =>
      Promise.resolve(![...this.alive].some((p) => name.endsWith(`:${p}`))),
    );
    const rights = { editable: true, owner, ...more };
    return new Draft(server.load(), rights, { send: server.send, kept, page });
  }
  /** As a page that goes does it: nothing of what waits is sent. */
  close(draft: Draft): void {
    draft.saver.keep();
    this.alive.delete(draft.saver.page);
  }
}

const rename = (draft: Draft, key: string, name: string): void =>
  draft.edit(ref(key), [{ op: 'replace', path: '/name', value: name }], 'rename');
const nameIn = (draft: Draft, key: string): string => (draft.part(ref(key))!.body as { name: string }).name;

let server: DraftServer;
let browser: Browser;
beforeEach(() => {
  vi.useFakeTimers();
  server = new DraftServer();
  browser = new Browser();
  for (const key of keys) server.set(key, key);
});
afterEach(() => vi.useRealTimers());

const [a, b] = keys as [string, string];

describe('an edit is kept until it is settled', () => {
  it('while the network is away, and sent when it is back; the bar tells how it stands', async () => {
    const draft = browser.open(server);
    server.mode = 'away';
    rename(draft, a, 'new');
    expect(draft.saver.state).toBe('saving');
    await draft.saver.save();
    expect([draft.saver.state, draft.saver.problem]).toEqual(['kept here', expect.stringMatching(/network is away/)]);
    server.mode = 'here';
    await draft.saver.save();
    expect([draft.saver.state, draft.saver.problem, server.bodies.get(a)?.name]).toEqual(['saved', undefined, 'new']);
  });

  it('tells how much the draft changes by now, and is kept at most five times a second while somebody types', async () => {
    const place = new DraftServer();
    const browser = new Browser();
    for (const key of keys) place.set(key, key);
    const draft = browser.open(place);
    const kept = vi.spyOn(browser.storage, 'setItem');
    for (const name of ['x', 'xy', 'xyz']) rename(draft, keys[0]!, name);
    expect(kept).not.toHaveBeenCalled();
    await draft.saver.save();
    expect(kept.mock.calls.length).toBeLessThanOrEqual(1);
    expect(draft.saver.changes).toBe(1);
  });

  it('over a closed tab, also where its answer was lost: it is done once', async () => {
    const first = browser.open(server);
    server.mode = 'answer lost';
    rename(first, a, 'new');
    await first.saver.save();
    browser.close(first);
    server.mode = 'here';
    const next = browser.open(server);
    await next.takeUpKept();
    await next.saver.save();
    expect([next.saver.state, nameIn(next, a), server.bodies.get(a)]).toEqual([
      'saved',
      'new',
      { version: 2, name: 'new' },
    ]);
  });

  it('where somebody changed the part meanwhile: as two versions after the reload, and after the next one', async () => {
    const first = browser.open(server);
    server.mode = 'away';
    rename(first, a, 'ours');
    await first.saver.save();
    browser.close(first);
    server.mode = 'here';
    server.set(a, 'theirs');
    let next = browser.open(server);
    await next.takeUpKept();
    for (let reload = 0; reload < 2; reload++) {
      expect([next.saver.state, nameIn(next, a)]).toEqual(['clash', 'ours']);
      browser.close(next);
      next = browser.open(server);
      await next.takeUpKept();
    }
    next.resolve(`rule:${a}`, 'ours');
    await next.saver.save();
    expect([next.saver.state, server.bodies.get(a)?.name]).toEqual(['saved', 'ours']);
  });

  it('where a clash is open and the page is loaded anew', async () => {
    const first = browser.open(server);
    server.set(a, 'theirs');
    rename(first, a, 'ours');
    await first.saver.save();
    expect(first.saver.state).toBe('clash');
    browser.close(first);
    const next = browser.open(server);
    await next.takeUpKept();
    expect([next.saver.state, nameIn(next, a)]).toEqual(['clash', 'ours']);
    next.resolve(`rule:${a}`, 'theirs');
    await next.saver.save();
    expect([next.saver.state, nameIn(next, a)]).toEqual(['saved', 'theirs']);
  });

  it('where it is refused: with its reason, without holding up another, until it is changed', async () => {
    const draft = browser.open(server);
    rename(draft, a, 'refused');
    rename(draft, b, 'good');
    await draft.saver.save();
    expect([draft.saver.state, draft.saver.problem]).toEqual(['refused', 'Not taken, kept here: Not that name.']);
    expect([server.bodies.get(b)?.name, nameIn(draft, a)]).toEqual(['good', 'refused']);
    await draft.saver.save();
    expect(draft.saver.state).toBe('refused');
    rename(draft, a, 'better');
    await draft.saver.save();
    expect([draft.saver.state, server.bodies.get(a)?.name]).toEqual(['saved', 'better']);
  });

  describe('where the right to change it was taken meanwhile', () => {
    const leftBehind = async (name: string) => {
      const first = browser.open(server);
      server.mode = 'away';
      rename(first, a, name);
      await first.saver.save();
      browser.close(first);
      server.mode = 'here';
    };
    const asReader = async () => {
      const draft = browser.open(server, 'tomas', { editable: false });
      await draft.takeUpKept();
      return draft;
    };
    const wasNamed = () => server.bodies.get(a)?.name;

    it('as refused, nobody having changed it, until the right is back', async () => {
      await leftBehind('mine');
      for (let reload = 0; reload < 2; reload++) {
        const reader = await asReader();
        expect([reader.saver.state, nameIn(reader, a), reader.saver.problem]).toEqual([
          'refused',
          'mine',
          'Not taken, kept here: You may not change this rule any more.',
        ]);
        browser.close(reader);
      }
      const next = browser.open(server);
      await next.takeUpKept();
      await next.saver.save();
      expect([next.saver.state, wasNamed()]).toEqual(['saved', 'mine']);
    });

    it('until it is left as it was, for good', async () => {
      const before = wasNamed();
      await leftBehind('mine');
      for (const isLeft of [false, true]) {
        const reader = await asReader();
        if (!isLeft) {
          reader.whenMissed = () => reader.refresh(server.load(), Infinity);
          reader.leaveRefused();
        }
        expect([reader.saver.state, nameIn(reader, a), wasNamed()]).toEqual(['saved', before, before]);
        browser.close(reader);
      }
    });

    it('beside what somebody else made of it, which alone can go on', async () => {
      await leftBehind('mine');
      server.set(a, 'theirs');
      const reader = await asReader();
      expect(reader.saver.state).toBe('clash');
      reader.resolve(`rule:${a}`, 'ours');
      expect([reader.saver.state, nameIn(reader, a)]).toEqual(['clash', 'mine']);
      reader.resolve(`rule:${a}`, 'theirs');
      await reader.saver.save();
      expect([reader.saver.state, nameIn(reader, a)]).toEqual(['saved', 'theirs']);
    });
  });

  it('from a tab that still lives: by that tab alone, and never by somebody else who signs in', async () => {
    const first = browser.open(server);
    server.mode = 'away';
    rename(first, a, 'mine');
    await first.saver.save();
    const beside = browser.open(server);
    await beside.takeUpKept();
    expect(nameIn(beside, a)).toBe(a);
    browser.close(first);
    const other = browser.open(server, 'ines');
    await other.takeUpKept();
    expect(nameIn(other, a)).toBe(a);
    await beside.takeUpKept();
    expect(nameIn(beside, a)).toBe('mine');
  });
});

it('a part that is no part is refused where it is edited, and left out where it comes from elsewhere', () => {
  const draft = browser.open(server);
  draft.edit(ref(a), [{ op: 'replace', path: '/moments', value: 'always' }], 'break it');
  expect(draft.refusal).toMatch(/^Moments must be a list/);
  expect([draft.canUndo, draft.saver.state]).toEqual([false, 'saved']);
  draft.applyRemote({ ...ref(a), by: 'Ada', part: { ...server.part(a), version: 9, body: { name: 5 } } });
  expect([nameIn(draft, a), draft.refusal]).toEqual([a, expect.stringMatching(/left out/)]);
});

describe('an edit of somebody else that is told by what it did', () => {
  const operations = [{ op: 'replace', path: '/name', value: 'theirs' }] as const;
  it.each<[string, number, readonly Operation[], string, boolean]>([
    ['is done where it follows on what is known', 2, operations, 'theirs', false],
    ['is not done a second time', 1, operations, a, false],
    ['has the whole asked for where one before it is missing', 3, operations, a, true],
    ['and where it does not fit', 2, [{ op: 'remove', path: '/none' }], a, true],
  ])('%s', (_, version, done, name, asked) => {
    const draft = browser.open(server);
    let whole = false;
    draft.whenMissed = () => (whole = true);
    draft.applyRemote({ ...ref(a), by: 'Ada', change: { version, operations: done } });
    expect([nameIn(draft, a), whole]).toEqual([name, asked]);
  });

  it('waits for ours', async () => {
    const draft = browser.open(server);
    rename(draft, a, 'mine');
    draft.applyRemote({ ...ref(a), by: 'Ada', change: { version: 3, operations } });
    expect(nameIn(draft, a)).toBe('mine');
    await draft.saver.save();
    expect(nameIn(draft, a)).toBe('theirs');
  });
});

it('whatever happens in whatever order, the last name typed for a part is on the server, or told', async () => {
  const act = fc.oneof(
    {
      weight: 4,
      arbitrary: fc.record({
        act: fc.constant('rename' as const),
        key: fc.constantFrom(...keys),
        name: fc.constantFrom('x', 'y', 'z', 'refused'),
      }),
    },
    fc.record({ act: fc.constant('others' as const), key: fc.constantFrom(...keys), name: fc.constantFrom('p', 'q') }),
    fc.record({
      act: fc.constant('mode' as const),
      mode: fc.constantFrom('here' as const, 'away' as const, 'answer lost' as const, 'slow' as const),
    }),
    fc.record({
      act: fc.constant('end' as const),
      ends: fc.constantFrom('taken' as const, 'taken, answer lost' as const, 'lost' as const),
    }),
    fc.record({ act: fc.constant('save' as const) }),
    fc.record({ act: fc.constant('reload' as const) }),
    fc.record({ act: fc.constant('undo' as const) }),
  );
  await fc.assert(
    fc.asyncProperty(fc.array(act, { maxLength: 30 }), async (acts) => {
      const place = new DraftServer();
      const page = new Browser();
      for (const key of keys) place.set(key, key);
      let draft = page.open(place);
      const byOthers = new Set<string>();
      for (const step of acts) {
        if (step.act === 'others') byOthers.add(`rule:${step.key}`);
        if (step.act === 'rename') rename(draft, step.key, step.name);
        else if (step.act === 'others') place.set(step.key, step.name);
        else if (step.act === 'mode') place.mode = step.mode;
        else if (step.act === 'undo') draft.undo();
        else if (step.act === 'end') place.end(step.ends);
        else if (step.act === 'save') void draft.saver.save();
        else {
          const shown = keys.map((key) => [key, nameIn(draft, key), draft.saver.isBusy(`rule:${key}`)] as const);
          page.close(draft);
          draft = page.open(place);
          await draft.takeUpKept();
          for (const [key, name, busy] of shown) if (busy) expect([key, nameIn(draft, key)]).toEqual([key, name]);
        }
        await vi.advanceTimersByTimeAsync(0);
      }
      place.mode = 'here';
      place.end('taken');
      await vi.advanceTimersByTimeAsync(0);
      for (let n = 0; n < 3; n++) await draft.saver.save();
      const waiting = new Set([...draft.saver.clashes.keys(), ...draft.saver.refused.map((r) => `rule:${r.ref.key}`)]);
      // Whatever the network does, nobody clashes with themselves.
      for (const id of draft.saver.clashes.keys()) expect(byOthers).toContain(id);
      for (const key of keys) {
        if (waiting.has(`rule:${key}`)) continue;
        expect(draft.saver.isBusy(`rule:${key}`)).toBe(false);
        // What others did since is heard of later; what was typed here is there.
        if (place.bodies.get(key)!.version === draft.saver.versions.of(`rule:${key}`))
          expect(place.bodies.get(key)!.name).toBe(nameIn(draft, key));
      }
      expect(draft.saver.state).toBe(
        draft.saver.refused.length > 0 ? 'refused' : draft.saver.clashes.size > 0 ? 'clash' : 'saved',
      );
    }),
    { seed: 17, numRuns: runsOf(600) },
  );
});
