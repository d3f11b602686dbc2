/** What a kind of rule has to say about itself. Nothing outside this folder tells kinds apart. */
import type { Diagnostic } from '../diagnostics/catalog.ts';
import type { Read } from '../expression/check.ts';
import type { Environment } from '../expression/compile.ts';
import type { Scope } from '../expression/scope.ts';
import type { Field, RecordType } from '../rulebook/document.ts';
import type { Value } from '../values/value.ts';

/** What is done where an outcome has no value of its own: the source is blank, nothing fits. */
export type Otherwise =
  | { readonly do: 'clear' }
  | { readonly do: 'leave' }
  | { readonly do: 'set'; readonly value: string | number }
  | { readonly do: 'stop'; readonly message: string };

/** Why an outcome wrote nothing of its own; worded for people by the trace. */
export type Cause = 'blank source' | 'blank result' | 'nothing fits' | 'wrong type' | 'filled already';

/** What one outcome asks of the engine for one target. */
export type Effect =
  | {
      readonly target: number;
      readonly act: 'set';
      readonly value: Value;
      readonly cause?: Cause;
      readonly branch?: number;
    }
  | { readonly target: number; readonly act: 'leave'; readonly cause: Cause }
  | { readonly target: number; readonly act: 'stop'; readonly message: string; readonly cause: Cause }
  /** Sets a value only where there is none and none was sent. */
  | { readonly target: number; readonly act: 'fill'; readonly value: Value }
  /** Keeps a scratch value for the steps behind it. */
  | { readonly place: number; readonly act: 'keep'; readonly value: Value };

/** What must or should hold of the settled record. */
export interface Constraint {
  /** Slot of the field that the message stands on; absent: the record. */
  readonly field?: number;
  readonly severity: 'stop' | 'warn';
  readonly message: string;
  /** Violated when this gives false; unknown violates nothing. */
  readonly holds: (env: Environment) => Value;
}

/** States that a rule gives to fields while its condition holds. */
export interface Demands {
  readonly required: readonly number[];
  readonly hidden: readonly number[];
  readonly constraints: readonly Constraint[];
}

export interface CompiledOutcome {
  readonly diagnostics: readonly Diagnostic[];
  readonly reads: readonly Read[];
  /** Field keys, in the order of the outcomes. */
  readonly writes: readonly string[];
  /** What the rule does, step by step, each seeing what the ones before it did. Absent when there are errors. */
  readonly steps?: readonly ((env: Environment) => readonly Effect[])[];
  /** What the rule asks of the settled record; absent for kinds that write. */
  readonly demands?: Demands;
  /** A formula asks for the clock. */
  readonly clock?: boolean;
}

export interface RuleKind {
  readonly key: string;
  /** The verb that the screen shows. */
  readonly name: string;
  readonly help: string;
  compile(outcome: unknown, recordType: RecordType, scope: Scope): CompiledOutcome;
  /** Keys of the fields written, also when the outcome does not compile. */
  targets(outcome: unknown): readonly string[];
  /** The one formula that decides, for kinds that have one. */
  source?(outcome: unknown): string;
  /** When a branch of the outcome applies: `from 10, below 50`. */
  branchText?(outcome: unknown, branch: number): string | undefined;
  /** The outcome read aloud, without the rule's condition. */
  sentence(outcome: unknown, recordType: RecordType): string;
  /** What an edit changed, each in one phrase: `boundary 50 → 60`. */
  differences(before: unknown, after: unknown, recordType: RecordType): readonly string[];
  /** An outcome to begin with, for a new rule on `target`. */
  begin(target: Field, recordType: RecordType): unknown;
}
