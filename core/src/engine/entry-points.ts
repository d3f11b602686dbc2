/** The registry of entry points: the ways a write can come in. Each form of a record type is one as well. */
import type { Moment, RecordType } from '../rulebook/document.ts';

export interface EntryPoint {
  readonly key: string;
  readonly name: string;
  readonly help: string;
  readonly moments: readonly Moment[];
  /** A value that comes in this way was set by a person, and is held. */
  readonly byHand: boolean;
}

const saving: readonly Moment[] = ['creating', 'updating'];

export const entryPoints: readonly EntryPoint[] = [
  { key: 'import', name: 'file import', help: 'rows of a file', moments: saving, byHand: false },
  { key: 'api', name: 'API', help: 'another program', moments: saving, byHand: false },
  { key: 'bulk', name: 'bulk change', help: 'one change to many records', moments: ['updating'], byHand: true },
];

export const formKey = (form: string): string => `form:${form}`;

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
