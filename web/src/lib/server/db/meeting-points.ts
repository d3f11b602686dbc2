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

/** Takes the points until the caller's transaction ends. */
export async function meet({ shared, alone }: MeetingPoints, on: Queryable): Promise<void> {
  await on.query({ name: 'meet', text: 'select meet($1, $2)', values: [[...shared], [...alone]] });
}

/** The release that is live changes for everybody at once: no write is stored under the former one after this. */
export const meetAllWrites = (on: Queryable): Promise<void> =>
  meet({ shared: new Set(), alone: new Set([releasePoint]) }, on);
