import type { Rulebook } from '@rigid-rule/core/document';
import { sha256Of } from '../digest.ts';
import { db, type Queryable } from './pool.ts';
import { together } from './together.ts';

export interface ReleaseSummary {
  readonly number: number;
  readonly note: string;
  readonly sha256: string;
  readonly releasedBy: string | null;
  readonly releasedAt: Date;
}

export interface Activation {
  readonly id: number;
  readonly release: number;
  readonly note: string;
  readonly activatedBy: string | null;
  readonly activatedAt: Date;
}

export async function listReleases(): Promise<ReleaseSummary[]> {
  const { rows } = await db().query<ReleaseSummary>(
    `select r.number, r.note, r.sha256, u.name as "releasedBy", r.released_at as "releasedAt"
       from releases r left join users u on u.id = r.released_by order by r.number desc`,
  );
  return rows;
}

export async function listActivations(): Promise<Activation[]> {
  const { rows } = await db().query<Activation>(
    `select a.id, a.release, a.note, u.name as "activatedBy", a.activated_at as "activatedAt"
       from activations a left join users u on u.id = a.activated_by order by a.id desc`,
  );
  return rows;
}

/** Number of the release that acts now; undefined before the first one. */
export const liveReleaseNumber = (on: Queryable = db()): Promise<number | undefined> =>
  on === db() ? liveNow('live') : readLive(on);

const liveNow = together<'live', number | undefined>(async (asked) => {
  const live = await readLive(db());
  return asked.map(() => live);
});

async function readLive(on: Queryable): Promise<number | undefined> {
  const { rows } = await on.query<{ release: number | null }>({
    name: 'live-release',
    text: 'select live_release() as release',
  });
  return rows[0]!.release ?? undefined;
}

/** What was live when a release first went live; undefined where nothing was. */
export async function releaseBefore(number: number): Promise<number | undefined> {
  const { rows } = await db().query<{ release: number }>(
    `select release from activations where id < (select min(id) from activations where release = $1)
      order by id desc limit 1`,
    [number],
  );
  return rows[0]?.release;
}

/** The bytes of a release are not those that were released: nothing acts by them. */
export class CorruptReleaseError extends Error {
  constructor(number: number) {
    super(`Release ${number} is not what was released: its SHA-256 is another. Put another release back.`);
  }
}

export interface StoredRelease {
  readonly number: number;
  readonly snapshot: string;
  readonly sha256: string;
}

/** SHA-256 that a release was stored under; a long one is not read for it. */
export async function digestOfRelease(number: number, on: Queryable = db()): Promise<string | undefined> {
  const { rows } = await on.query<{ sha256: string }>('select sha256 from releases where number = $1', [number]);
  return rows[0]?.sha256;
}

export async function loadRelease(number: number, on: Queryable = db()): Promise<StoredRelease | undefined> {
  const { rows } = await on.query<StoredRelease>('select number, snapshot, sha256 from releases where number = $1', [
    number,
  ]);
  return rows[0];
}

/** @throws {CorruptReleaseError} */
export async function readSnapshot({ number, snapshot, sha256 }: StoredRelease): Promise<Rulebook> {
  if ((await sha256Of(snapshot)) !== sha256) throw new CorruptReleaseError(number);
  return JSON.parse(snapshot) as Rulebook;
}

/** Every release as it is stored, with the digest that it was stored under. */
export async function listDigests(on: Queryable): Promise<readonly StoredRelease[]> {
  const { rows } = await on.query<StoredRelease>('select number, snapshot, sha256 from releases order by number');
  return rows;
}

export async function insertRelease(
  release: { note: string; snapshot: string; sha256: string; userId: number | null },
  on: Queryable,
): Promise<number> {
  const { rows } = await on.query<{ number: number }>(
    `insert into releases (number, note, snapshot, sha256, released_by)
     select coalesce(max(number), 0) + 1, $1, $2, $3, $4 from releases returning number`,
    [release.note, release.snapshot, release.sha256, release.userId],
  );
  return rows[0]!.number;
}

export async function insertActivation(
  release: number,
  note: string,
  userId: number | null,
  on: Queryable,
): Promise<void> {
  await on.query(`insert into activations (release, note, activated_by) values ($1, $2, $3)`, [release, note, userId]);
}
