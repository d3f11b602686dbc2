/** The rulebook document: plain JSON. Natural keys everywhere; order is the author's. */

/** A stored field value: JSON that database, browser and API carry unharmed. Blank is null. */
export type Stored = null | boolean | number | string | readonly string[];
export type RecordData = Readonly<Record<string, Stored>>;

export interface Option {
  /** What is stored. Never changes; the name may. */
  readonly key: string;
  readonly name: string;
  /** Stands outside the order of an ordered picklist. */
  readonly outside?: boolean;
}

export interface Field {
  readonly key: string;
  readonly name: string;
  /** Key of a field type. */
  readonly type: string;
  /** What a form shows where the name cannot say it (names are letters, digits and single spaces). */
  readonly label?: string;
  readonly help?: string;
  /** Section of the full form. */
  readonly group?: string;
  /** Numbers: decimals kept, 0 to 10; -1 never. */
  readonly scale?: number;
  readonly rounding?: 'half-even' | 'half-up';
  readonly min?: number;
  readonly max?: number;
  /** Texts: most characters. */
  readonly length?: number;
  readonly options?: readonly Option[];
  /** Options compare by their order. */
  readonly ordered?: boolean;
  /** Lookups: key of the record type linked to. */
  readonly recordType?: string;
  readonly unique?: boolean;
  readonly required?: boolean;
}

export interface Form {
  readonly key: string;
  readonly name: string;
  /** Field keys in order; absent: all fields. */
  readonly fields?: readonly string[];
}

export interface RecordType {
  readonly key: string;
  readonly name: string;
  readonly plural: string;
  /** Keys of the fields that together name a record. */
  readonly title: readonly string[];
  readonly fields: readonly Field[];
  /** The first one is the full form. */
  readonly forms: readonly Form[];
}

export type Moment = 'opening' | 'editing' | 'creating' | 'updating' | 'on request';
export type Winner = 'rule' | 'person' | 'later' | 'locked';
export type Repeat = 'wakes' | 'starts' | 'every';

export interface Rule {
  readonly key: string;
  readonly recordType: string;
  readonly name: string;
  readonly purpose: string;
  /** Key of a rule kind. */
  readonly kind: string;
  readonly on: boolean;
  /** Breaks ties between rules that nothing else orders. */
  readonly position: number;
  /** Narrows or widens what wakes the rule; absent: found from what it reads. */
  readonly wakesOn?: readonly string[];
  readonly moments: readonly Moment[];
  readonly entryPoints: readonly string[];
  /** FEEL; absent or empty: always. */
  readonly condition?: string;
  readonly repeat: Repeat;
  readonly winner: Winner;
  /** The shape is the kind's own. */
  readonly outcome: unknown;
}

export interface Rulebook {
  readonly format: 'rigid-rule/1';
  readonly name: string;
  /** IANA time zone of the organisation. */
  readonly zone: string;
  /** ISO 4217. */
  readonly currency: string;
  readonly recordTypes: readonly RecordType[];
  readonly rules: readonly Rule[];
}

export const moments: readonly { readonly key: Moment; readonly name: string; readonly help: string }[] = [
  { key: 'opening', name: 'opening', help: 'when a blank form opens' },
  { key: 'editing', name: 'editing', help: 'while a form is being filled in' },
  { key: 'creating', name: 'creating', help: 'when a new record is saved' },
  { key: 'updating', name: 'updating', help: 'when an existing record is saved' },
  { key: 'on request', name: 'on request', help: 'when someone asks for it' },
];

export const winners: readonly { readonly key: Winner; readonly name: string; readonly help: string }[] = [
  { key: 'rule', name: 'the rule', help: 'it writes over what a person set' },
  { key: 'person', name: 'the person', help: 'a value set by hand stands until it is handed back' },
  { key: 'later', name: 'the later', help: 'whichever came last, the typed value or the cause of the rule' },
  { key: 'locked', name: 'locked', help: 'people see the value and why, and change what it follows from' },
];

export const repeats: readonly { readonly key: Repeat; readonly name: string }[] = [
  { key: 'wakes', name: 'whenever it wakes' },
  { key: 'starts', name: 'only when the condition starts to hold' },
  { key: 'every', name: 'every write' },
];
