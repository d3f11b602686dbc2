/**
 * Where writes meet: the records that they read or write, the keys under which they look for records or under which
 * theirs are found, and the live release. Whoever only reads there shares a point; whoever changes something takes it
 * alone. Writes that share no point never wait for each other.
 */
import type { Queryable } from './pool.ts';

export interface MeetingPoints {
  readonly shared: ReadonlySet<string>;
  readonly alone: ReadonlySet<string>;
}

/** Whoever takes this one is alone with the database. */
export const everyonePoint = 'everyone';
export const releasePoint = 'release';
export const recordPoint = (type: string, id: number | string): string => `record ${type} ${id}`;
export const keyPoint = (type: string, field: string, mode: string, key: string): string =>
  `key ${type} ${field} ${mode} ${key}`;

/** One request that may be sent twice. */
export const requestPoint = (key: string): string => `request ${key}`;

/** The first of these, and of the others those that can go with it: no two of them meet where one is alone. */
export function apart<T extends { readonly points: MeetingPoints }>(those: readonly T[]): readonly T[] {
  const [shared, alone] = [new Set<string>(), new Set<string>()];
  return those.filter(({ points }) => {
    for (const p of points.alone) if (alone.has(p) || shared.has(p)) return false;
    for (const p of points.shared) if (alone.has(p)) return false;
    for (const p of points.alone) alone.add(p);
    for (const p of points.shared) shared.add(p);
    return true;
  });
}

/** Takes the points until the caller's transaction ends. */
export async function meet({ shared, alone }: MeetingPoints, on: Queryable): Promise<void> {
  await on.query({ name: 'meet', text: 'select meet($1, $2)', values: [[...shared], [...alone]] });
}

/** The release that is live changes for everybody at once: no write is stored under the former one after this. */
export const meetAllWrites = (on: Queryable): Promise<void> =>
  meet({ shared: new Set(), alone: new Set([releasePoint]) }, on);
