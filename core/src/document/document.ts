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
  /** What it means, for those who choose it. */
  readonly meaning?: string;
  /** A shape that stands beside its name, so that it is seen at a glance without colour. */
  readonly mark?: OptionMark;
}

export const optionMarks = ['●', '○', '▲', '▼', '◆', '■', '✚', '▬'] as const;
export type OptionMark = (typeof optionMarks)[number];

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
  /** Of what has more decimals; absent: half away from zero for money (2.5 gives 3), half to even for other numbers. */
  readonly rounding?: 'half-even' | 'half-up';
  readonly min?: number;
  readonly max?: number;
  /** Texts: most characters. */
  readonly length?: number;
  readonly options?: readonly Option[];
  /** Instead of options of its own: key of the field of the same record type whose options these are. */
  readonly optionsOf?: string;
  /** Options compare by their order. */
  readonly ordered?: boolean;
  /** Lookups: key of the record type linked to. */
  readonly recordType?: string;
  /** Lookups: name of the child list at the other end; absent: the plural of the record type that holds the lookup. */
  readonly children?: string;
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
  /** What is sent to the outbox when the rule acts. */
  readonly notify?: readonly Notice[];
}

export interface Notice {
  readonly channel: 'email' | 'task' | 'webhook';
  /** FEEL, giving an address, a user or a list of them; one message for each. Blank: none. */
  readonly to: string;
  /** Templates. */
  readonly subject: string;
  readonly body: string;
  /** Tasks: days from the write until it is due. */
  readonly dueInDays?: number;
}

export type CellValue = string | number | boolean;

/**
 * One cell of a mapping table. In a key column: a value to equal, a list of such, a range, `blank`, or FEEL unary tests;
 * null is any value. In an output column: the value, or for multi-selects a list of options; null is blank.
 */
export type Cell =
  | null
  | CellValue
  | readonly CellValue[]
  | {
      readonly from?: CellValue;
      readonly fromOpen?: boolean;
      readonly to?: CellValue;
      readonly toClosed?: boolean;
    }
  | { readonly blank: true }
  | { readonly tests: string };

/** What a column holds where no field says it. */
export type ColumnTypeKey = 'text' | 'number' | 'date' | 'yes/no';

export interface TableColumn {
  readonly key: string;
  readonly name: string;
  /** `customer.country`: the field whose values the column holds; its options and type are checked. */
  readonly field?: string;
  /** Where no field says it. */
  readonly type?: ColumnTypeKey;
  /** Keys of text: how they are compared. */
  readonly match?: 'exact' | 'folded' | 'prefix';
  /** Outputs of *priority* and *output order*: values from the first to the last. */
  readonly order?: readonly CellValue[];
}

export const hitPolicies = ['unique', 'any', 'first', 'priority', 'rule order', 'output order', 'collect'] as const;
export type HitPolicy = (typeof hitPolicies)[number];
export type Aggregation = 'sum' | 'min' | 'max' | 'count';

export interface MappingTable {
  readonly key: string;
  readonly name: string;
  readonly purpose: string;
  /** Emails of the users who may change its rows, though they may change nothing else. */
  readonly keepers?: readonly string[];
  /** By its DMN name. */
  readonly hitPolicy: HitPolicy;
  /** For *collect*. */
  readonly aggregation?: Aggregation;
  readonly keys: readonly TableColumn[];
  readonly outputs: readonly TableColumn[];
  /** Cells by column key. */
  readonly rows: readonly Readonly<Record<string, Cell>>[];
}

/** A record to try rules on, found by name: never a live one. */
export interface SampleRecord {
  readonly key: string;
  readonly recordType: string;
  readonly data: RecordData;
  readonly held?: readonly string[];
}

export interface Expectation {
  readonly fields?: RecordData;
  readonly states?: Readonly<Record<string, Readonly<Record<string, unknown>>>>;
  /** Texts that have to be said, whole; an empty list: nothing is said. */
  readonly messages?: readonly string[];
  /** Addresses that a notification goes to; an empty list: nobody. */
  readonly notified?: readonly string[];
  /** Values that rules give to other records, by the key of the record; an empty list: none. */
  readonly related?: readonly RelatedExpectation[];
  readonly ran?: readonly string[];
  readonly didNotRun?: readonly string[];
  readonly verdict?: string;
}

/** A field of another record, and what it becomes. */
export interface RelatedExpectation {
  readonly recordType: string;
  readonly key: string;
  readonly field: string;
  readonly value: Stored;
}

/** A kept try. It copies its records, so that it stays as it is when samples change. */
export interface RuleTest {
  readonly key: string;
  readonly name: string;
  readonly recordType: string;
  readonly before: { readonly data: RecordData; readonly held?: readonly string[] } | null;
  /** Related records that the rules may read. */
  readonly related?: readonly SampleRecord[];
  readonly origin?: { readonly recordType: string; readonly data: RecordData };
  readonly sent: Readonly<Record<string, unknown>>;
  readonly typed?: readonly string[];
  readonly moment: Moment;
  readonly entryPoint: string;
  /** ISO 8601 instant with offset. */
  readonly now: string;
  readonly user?: User;
  readonly woken?: readonly string[];
  readonly expect: Expectation;
  /** Present where the test stands for many cases. */
  readonly family?: TestFamily;
  /** What the rules did when the test was last accepted, in the order in which they ran. */
  readonly accepted?: readonly AcceptedStep[];
}

/** Cases that one test stands for: each is counted, run and reported on its own. With both members: each with each. */
export interface TestFamily {
  /** Each of these takes the place of the test's entry point. */
  readonly entryPoints?: readonly string[];
  /** What is sent and what comes out, case by case, over what the test itself sends and expects. */
  readonly cases?: {
    /** Keys of the fields sent. */
    readonly sent: readonly string[];
    /** Keys of the fields looked at. */
    readonly expected: readonly string[];
    /** A value for each of `sent`, then one for each of `expected`; null is blank. */
    readonly rows: readonly (readonly Stored[])[];
  };
}

/** What one rule did in a test that was accepted. */
export interface AcceptedStep {
  readonly rule: string;
  readonly verdict: string;
  /** What came of it, in short: `Size class: Medium`. */
  readonly text?: string;
}

/** A condition that has to be true of every record of a type once it is saved, whatever was entered. */
export interface Claim {
  readonly key: string;
  /** As the business says it. */
  readonly name: string;
  readonly recordType: string;
  /** FEEL, yes/no. */
  readonly condition: string;
}

/** Who writes. `contact` is the id of the linked record, of the rulebook's `userRecordType`. */
export interface User {
  readonly name: string;
  readonly email: string;
  readonly role: string;
  readonly contact?: string;
}

/** A finding that was accepted, with the reason. */
export interface Acceptance {
  /** Key of the finding: its kind and place. */
  readonly finding: string;
  readonly reason: string;
}

export interface Rulebook {
  readonly format: 'rigid-rule/1';
  readonly name: string;
  /** IANA time zone of the organisation. */
  readonly zone: string;
  /** ISO 4217. */
  readonly currency: string;
  /** BCP 47: how the organisation writes numbers and dates. Absent: `en-GB`. */
  readonly locale?: string;
  /** Key of the record type that users are linked to (`user.contact`). */
  readonly userRecordType?: string;
  readonly recordTypes: readonly RecordType[];
  readonly rules: readonly Rule[];
  readonly tables?: readonly MappingTable[];
  readonly samples?: readonly SampleRecord[];
  readonly tests?: readonly RuleTest[];
  readonly claims?: readonly Claim[];
  /** Suggested tests that somebody refused, by their identity: they are not proposed again. */
  readonly refused?: readonly string[];
  readonly accepted?: readonly Acceptance[];
  /** Former names, so that a formula that still says one is told the present one: `customer.Size` → `Size class`. */
  readonly formerNames?: Readonly<Record<string, string>>;
}

export const moments: readonly { readonly key: Moment; readonly name: string; readonly help: string }[] = [
  { key: 'opening', name: 'opening', help: 'when a blank form opens' },
  { key: 'editing', name: 'editing', help: 'while a form is being filled in' },
  { key: 'creating', name: 'creating', help: 'when a new record is saved' },
  { key: 'updating', name: 'updating', help: 'when an existing record is saved' },
  { key: 'on request', name: 'on request', help: 'when someone asks for it' },
];

export const winners: readonly { readonly key: Winner; readonly name: string; readonly help: string }[] = [
  { key: 'rule', name: 'the rule replaces it', help: 'whoever entered it' },
  { key: 'person', name: 'it stays', help: 'until it is handed back to the rule' },
  { key: 'later', name: 'the later stays', help: 'the value entered, or the rule once it wakes again' },
  { key: 'locked', name: 'locked', help: 'nobody can: people see the value and why, and change what it follows from' },
];

export const repeats: readonly { readonly key: Repeat; readonly name: string }[] = [
  { key: 'wakes', name: 'whenever it wakes' },
  { key: 'starts', name: 'only when the condition starts to hold' },
  { key: 'every', name: 'every write' },
];
