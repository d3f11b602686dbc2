/** What a kind of rule has to say about itself. Nothing outside this folder tells kinds apart. */
import type { Writing } from '../../language/types/writing.ts';
import type { SentenceWords } from '../../language/wording/words.ts';
import type { Diagnostic } from '../../diagnostics/catalog.ts';
import type { Read, Uses } from '../../language/expression/checked.ts';
import type { Formula } from '../../language/expression/formula.ts';
import type { OptionNames } from '../../language/types/types.ts';
import type { Environment } from '../../language/expression/runtime.ts';
import type { Scope } from '../../language/expression/scope.ts';
import type { Field, Moment, RecordType, Rulebook, Stored } from '../../document/document.ts';
import type { RecordRef, Value } from '../../values/value.ts';
import type { OutcomeStructure } from './outcome-structure.ts';
import type { SlotIndex } from '../../document/slots.ts';

/** Why an outcome wrote nothing of its own; worded for people by the trace. */
export type NoWriteReason =
  | 'blank source'
  | 'blank result'
  | 'nothing fits'
  | 'wrong type'
  | 'filled already'
  | 'no match'
  | 'several matches'
  | 'no longer allowed'
  | 'does not fit';

/** What becomes of the options that a multi-select holds already. */
export type ListUpdateMode = 'replace' | 'add' | 'remove';
export const listUpdateModes: readonly ListUpdateMode[] = ['replace', 'add', 'remove'];
/** As sentences say it: *Crops gains …*. */
export const listUpdateVerbs: Readonly<Record<ListUpdateMode, string>> = {
  replace: 'becomes',
  add: 'gains',
  remove: 'loses',
};

/** What one outcome asks of the engine for one target. */
export type Effect =
  | {
      readonly target: SlotIndex;
      readonly act: 'set';
      readonly value: Value;
      readonly way?: ListUpdateMode;
      readonly cause?: NoWriteReason;
      readonly branch?: number;
      /** What decided, in words: by what a record was matched. */
      readonly because?: string;
      /** A value that does not fit warns and is left out, rather than stopping the write. */
      readonly lenient?: boolean;
      /** The value in stored form, where it is known beforehand that it fits the target. */
      readonly stored?: Stored;
    }
  | { readonly target: SlotIndex; readonly act: 'leave'; readonly cause: NoWriteReason; readonly because?: string }
  | { readonly target: SlotIndex; readonly act: 'stop'; readonly message: string; readonly cause: NoWriteReason }
  /** Sets a value only where there is none and none was sent. */
  | { readonly target: SlotIndex; readonly act: 'fill'; readonly value: Value }
  /** Takes back what is not among the options that all limits on the field leave. */
  | { readonly target: SlotIndex; readonly act: 'confine' }
  /** Keeps a scratch value for the steps behind it. */
  | { readonly stackIndex: number; readonly act: 'keep'; readonly value: Value }
  /** Writes a field of another record. */
  | {
      readonly act: 'send';
      readonly to: RecordRef;
      readonly field: string;
      readonly value: Value;
      readonly way?: ListUpdateMode;
    };

export type Step = (env: Environment) => readonly Effect[];

/** What must or should hold of the settled record. */
export interface Constraint {
  /** Slot of the field that the message stands on; absent: the record. */
  readonly field?: SlotIndex;
  readonly severity: 'stop' | 'warn';
  /** What people read, of the record that it is said of. */
  readonly message: (env: Environment) => string;
  /** Violated when this gives false; unknown violates nothing. */
  readonly holds: (env: Environment) => Value;
}

/** The options that a field may hold, by what another gives. */
export interface Limit {
  readonly field: SlotIndex;
  /** Keys of the options allowed now; undefined: all. */
  readonly allowed: (env: Environment) => readonly string[] | undefined;
  /** When the present value is no longer among them. `only`: take the only one left, else clear. */
  readonly otherwise: 'stop' | 'clear' | 'only';
  readonly message: string;
}

/** States that a rule gives to fields while its condition holds. */
export interface FieldConstraints {
  readonly required: readonly SlotIndex[];
  readonly hidden: readonly SlotIndex[];
  /** Not to be changed by hand. */
  readonly locked: readonly SlotIndex[];
  readonly limits: readonly Limit[];
  readonly constraints: readonly Constraint[];
}

/** A formula of a rule where it stands. */
export interface PlacedFormula {
  /** JSON Pointer (RFC 6901) from the rule to the text that holds it. */
  readonly path: string;
  /** Where it begins in that text: 0 but in templates. */
  readonly at: number;
  readonly formula: Formula;
  /** The options of the field that it gives its value to. */
  readonly gives?: OptionNames;
}

/** A text of the outcome, or the texts of a list in it, that stands for an option by its name or key. */
export interface PlacedOption {
  readonly path: string;
  readonly options: OptionNames;
}

export interface CompiledOutcome extends Uses {
  readonly formulas: readonly PlacedFormula[];
  readonly options: readonly PlacedOption[];
  /** What the key columns of tables are asked with, and what becomes of their outputs. */
  readonly columns: readonly { readonly table: string; readonly column: string; readonly options: OptionNames }[];
  readonly diagnostics: readonly Diagnostic[];
  readonly reads: readonly Read[];
  /** Field keys, in the order of the outcomes. */
  readonly writes: readonly string[];
  /** What the rule does, step by step, each seeing what the ones before it did. Absent when there are errors. */
  readonly steps?: readonly Step[];
  /** What the rule asks of the settled record; absent for kinds that write. */
  readonly demands?: FieldConstraints;
}

/** One way that a rule can go, for coverage: a band, a row, a path without a match. */
export interface Branch {
  /** As the trace names it: the number of the branch, or the cause of a path without one. */
  readonly at: number | NoWriteReason;
  /** `from 10, below 50`; `no match`. */
  readonly text: string;
}

/** A small fault planted in an outcome, to see whether a test catches it. */
export interface Mutant {
  readonly text: string;
  readonly outcome: unknown;
}

/** `recordTypes`: of the rulebook, whose fields the outcome may name. */
export type OutcomeMutants = (
  outcome: unknown,
  recordType: RecordType,
  recordTypes: readonly RecordType[],
  writing: Writing,
) => readonly Mutant[];

export interface RuleKind<K extends string = string> {
  readonly key: K;
  /** The verb that the screen shows. */
  readonly name: string;
  readonly help: string;
  /** `writing`: how numbers and days stand in what is said of it. */
  compile(outcome: unknown, recordType: RecordType, scope: Scope, writing: Writing): CompiledOutcome;
  /** Keys of the fields written, also when the outcome does not compile. */
  targets(outcome: unknown): readonly string[];
  /** The one formula that decides, for kinds that have one. */
  source?(outcome: unknown): string;
  /** When a branch of the outcome applies: `from 10, below 50`. */
  branchText?(outcome: unknown, branch: number, writing: Writing): string | undefined;
  /** The ways that the outcome can go, where there is more than one. */
  branches?(outcome: unknown, rulebook: Rulebook, writing: Writing): readonly Branch[];
  /** The parts of an outcome; a kind of which nothing is to be said leaves it out. */
  structureOf?(outcome: unknown): OutcomeStructure;
  /** Formulas and templates in the outcome, by path within it. */
  texts(outcome: unknown): readonly OutcomeText[];
  /** The outcome read aloud, clause by clause, without the rule's condition: none ends with a full stop. */
  clauses(outcome: unknown, recordType: RecordType, words: SentenceWords): readonly string[];
  /** False: nothing that a person entered is ever replaced, so nobody has to say who wins. */
  readonly replaces?: false;
  /** When a fresh rule of the kind acts; absent: while a form is filled in and whenever a record is saved. */
  readonly usualMoments?: readonly Moment[];
  /** What an edit changed, each in one phrase: `boundary 50 → 60`. */
  differences(before: unknown, after: unknown, recordType: RecordType, words: SentenceWords): readonly string[];
  /**
   * An outcome to begin with, for a new rule on `target`. `recent`: keys of fields that it may follow from, the likeliest
   * first.
   */
  createOutcome(target: Field, recordType: RecordType, recent?: readonly string[]): unknown;
}

export const usualMomentsOf = (kind: Pick<RuleKind, 'usualMoments'> | undefined): readonly Moment[] =>
  kind?.usualMoments ?? ['editing', 'creating', 'updating'];

/** A formula or template of an outcome and where it stands; an edit of the text replaces what is there. */
export interface OutcomeText {
  readonly path: string;
  readonly text: string;
  readonly template?: true;
}
