/** The registry of entry points: the ways a write can come in. Each form of a record type is one as well. */
import type { Moment, RecordType } from '../document/document.ts';

export interface EntryPoint<K extends string = string> {
  readonly key: K;
  readonly name: string;
  readonly help: string;
  readonly moments: readonly Moment[];
  /** A value that comes in this way was set by a person, and is held. */
  readonly byHand: boolean;
  /** Nobody sent anything: what was wrong before does not stop such a write. */
  readonly followsUp?: true;
}

const saving: readonly Moment[] = ['creating', 'updating'];

const registry = [
  { key: 'import', name: 'file import', help: 'rows of a file', moments: saving, byHand: false },
  { key: 'api', name: 'API', help: 'another program', moments: saving, byHand: false },
  { key: 'bulk', name: 'bulk change', help: 'one change to many records', moments: ['updating'], byHand: true },
  {
    key: 'conversion',
    name: 'conversion',
    help: 'a record made from another',
    moments: ['creating'],
    byHand: false,
  },
  {
    key: 'rule',
    name: 'another rule',
    help: 'written because a related record changed',
    moments: saving,
    byHand: false,
    followsUp: true,
  },
  {
    key: 'backfill',
    name: 'backfill',
    help: 'rules applied to records that are there',
    moments: ['updating'],
    byHand: false,
    followsUp: true,
  },
] as const satisfies readonly EntryPoint[];

/** Keys of the ways in that are no forms. */
export type EntryPointKey = (typeof registry)[number]['key'];
export const entryPoints: readonly EntryPoint<EntryPointKey>[] = registry;

/** The entry point that a form of a record type is. */
export type FormEntryPointKey = `form:${string}`;
export const formKey = (form: string): FormEntryPointKey => `form:${form}`;

/** All forms are one kind of entry point, each other one is its own. */
export type EntryPointClass = EntryPointKey | 'form';

/** @throws where a key is none of an entry point: the keys of a rulebook are checked before anything runs. */
export function entryPointClass(key: string): EntryPointClass {
  if (key.startsWith(formKey(''))) return 'form';
  const known = entryPoints.find((e) => e.key === key);
  if (!known) throw new Error(`There is no entry point ${key}.`);
  return known.key;
}

/** All entry points of a record type, its forms first. */
export function entryPointsOf(recordType: Pick<RecordType, 'forms'>): readonly EntryPoint[] {
  const forms = recordType.forms.map((f): EntryPoint => ({
    key: formKey(f.key),
    name: f.name,
    help: 'a person filling it in',
    moments: ['opening', 'editing', 'creating', 'updating'],
    byHand: true,
  }));
  return [...forms, ...entryPoints];
}
