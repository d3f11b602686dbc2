/** What others do comes in once, in order, and never over what is being changed here. */
import { partId } from '@rigid-rule/core/document';
import fc from 'fast-check';
import { runsOf } from '../../../../../core/src/testing/runs.ts';
import { describe, expect, it } from 'vitest';
import type { RemoteEdit, VersionedPart } from '$lib/draft-protocol.ts';
import { PartStore } from './part-store.ts';
import { RemoteEdits, type ServerSide } from './remote-edits.ts';
import { ServerVersions } from './server-versions.ts';
import { ruleBody, ruleRef as ref } from './test-rule.ts';

const part = (key: string, version: number, name: string): VersionedPart => ({
  ...ref(key),
  version,
  position: 0,
  body: ruleBody(key, name),
});
const renamed = (key: string, version: number, name: string): RemoteEdit => ({
  ...ref(key),
  by: 'Ada',
  change: { version, operations: [{ op: 'replace', path: '/name', value: name }] },
});

class Page implements ServerSide {
  readonly versions = new ServerVersions();
  readonly busy = new Set<string>();
  readonly heard: string[] = [];
  missed = 0;
  readonly store = new PartStore();
  readonly remote = new RemoteEdits(this.store, this, {
    isSound: (p) => (p?.body as { name: string } | undefined)?.name !== 'unsound',
    heard: (by, what) => this.heard.push(`${by}: ${what}`),
    missed: () => this.missed++,
  });
  constructor(...parts: readonly VersionedPart[]) {
    for (const p of parts) this.remote.takeOver(p, p);
  }
  isBusy(id: string): boolean {
    return this.busy.has(id);
  }
  names(): string[] {
    return this.store.all().map((p) => (p.body as { name: string }).name);
  }
}

describe('an edit of somebody else', () => {
  it.each<[string, RemoteEdit, string[], string[], number]>([
    ['is made on what is here', renamed('a', 2, 'new'), ['new'], ['Ada: new'], 0],
    ['comes as a whole part', { ...ref('a'), by: 'Ada', part: part('a', 5, 'whole') }, ['whole'], ['Ada: whole'], 0],
    ['that is known is not made again', renamed('a', 1, 'old'), ['first'], [], 0],
    ['after one that was missed has the draft asked for', renamed('a', 3, 'new'), ['first'], [], 1],
    ['of a part that is not here has the draft asked for', renamed('b', 2, 'new'), ['first'], [], 1],
    [
      'that does not fit has the draft asked for',
      { ...ref('a'), by: 'Ada', change: { version: 2, operations: [{ op: 'remove', path: '/nothing' }] } },
      ['first'],
      [],
      1,
    ],
    ['takes a part away', { ...ref('a'), by: 'Ada' }, [], ['Ada: first'], 0],
    [
      'to what cannot be worked with is left out',
      { ...ref('a'), by: 'Ada', part: part('a', 2, 'unsound') },
      ['first'],
      [],
      0,
    ],
  ])('%s', (_, edit, names, heard, missed) => {
    const page = new Page(part('a', 1, 'first'));
    page.remote.apply(edit);
    expect([page.names(), page.heard, page.missed]).toEqual([names, heard, missed]);
  });

  it('waits while ours is on its way, and is then made if ours did not overtake it', () => {
    for (const [version, name] of [
      [1, 'theirs'],
      [2, 'first'],
    ] as const) {
      const page = new Page(part('a', 1, 'first'));
      page.busy.add(partId(ref('a')));
      page.remote.apply(renamed('a', 2, 'theirs'));
      expect(page.names()).toEqual(['first']);
      page.busy.clear();
      page.versions.set(partId(ref('a')), version);
      page.remote.catchUp(ref('a'));
      page.remote.catchUp(ref('a'));
      expect(page.names()).toEqual([name]);
    }
  });
});

describe('a page that hears of some edits, twice, late or never', () => {
  it('holds what the server holds once it has asked for the draft', () => {
    const event = fc.record({
      key: fc.constantFrom('a', 'b', 'c'),
      what: fc.constantFrom('rename', 'whole', 'remove'),
      told: fc.constantFrom('once', 'twice', 'late', 'never'),
      busy: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(event, { maxLength: 30 }), (events) => {
        const server = new Map<string, VersionedPart>();
        let clock = 1;
        const page = new Page();
        const late: RemoteEdit[] = [];
        const asked = (): void => page.remote.refresh([...server.values()], page.versions.now());
        for (const { key, what, told, busy } of events) {
          const there = server.get(key);
          const name = `name ${clock++}`;
          let edit: RemoteEdit;
          if (what === 'remove') {
            if (!there) continue;
            server.delete(key);
            edit = { ...ref(key), by: 'Ada' };
          } else {
            // A part made anew goes on from a version that was never given, as the server counts.
            const now = part(key, there ? there.version + 1 : clock * 100, name);
            server.set(key, now);
            edit = what === 'rename' && there ? renamed(key, now.version, name) : { ...ref(key), by: 'Ada', part: now };
          }
          const id = partId(ref(key));
          if (busy) page.busy.add(id);
          if (told === 'late') late.push(edit);
          else if (told !== 'never') for (let i = told === 'twice' ? 2 : 1; i > 0; i--) page.remote.apply(edit);
          page.busy.delete(id);
          page.remote.catchUp(ref(key));
        }
        for (const edit of late) if (edit.part ?? edit.change) page.remote.apply(edit);
        asked();
        const byKey = (parts: Iterable<VersionedPart>) => new Map([...parts].map((p) => [p.key, p]));
        expect(byKey(page.store.all())).toEqual(server);
      }),
      { numRuns: runsOf(300) },
    );
  });

  it('holds it also where the draft was read before what it heard, and did itself, since', () => {
    const events = fc.array(
      fc.record({
        key: fc.constantFrom('a', 'b', 'c'),
        taken: fc.boolean(),
        comes: fc.constantFrom('ours', 'heard', 'missed'),
      }),
      { maxLength: 12 },
    );
    fc.assert(
      fc.property(events, events, (before, since) => {
        const server = new Map<string, VersionedPart>();
        let version = 0;
        const page = new Page();
        const happen = ({ key, taken, comes }: (typeof before)[number]): void => {
          if (taken) server.delete(key);
          else server.set(key, part(key, ++version, `name ${version}`));
          const now = server.get(key);
          if (comes === 'ours') page.remote.takeOver(ref(key), now);
          else if (comes === 'heard') page.remote.apply({ ...ref(key), by: 'Ada', ...(now ? { part: now } : {}) });
        };
        before.forEach(happen);
        const [read, at] = [[...server.values()], page.versions.now()];
        since.filter((e) => e.comes !== 'missed').forEach(happen);
        page.remote.refresh(read, at);
        expect(new Map(page.store.all().map((p) => [p.key, p]))).toEqual(server);
      }),
      { numRuns: runsOf(300) },
    );
  });
});
