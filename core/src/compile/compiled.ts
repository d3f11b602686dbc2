/** A rulebook compiled: rules with their reads, writes and closures, in the order in which they run. */
import { type Diagnostic } from '../diagnostics/catalog.ts';
import type { RelatedRead } from '../language/expression/checked.ts';
import { type Formula } from '../language/expression/formula.ts';
import type { Compiled } from '../language/expression/runtime.ts';
import { type Scope } from '../language/expression/scope.ts';
import { type ChildList } from '../language/expression/shapes.ts';
import type { Hop } from '../language/types/types.ts';
import type { FieldType } from '../language/field-types/field-type.ts';
import type { Host } from '../language/types/host.ts';
import type { Writing } from '../language/types/writing.ts';
import { type CompiledTable } from './mapping/table.ts';
import type { RuleKindKey } from './rule-kinds/index.ts';
import type { OutcomeStructure } from './rule-kinds/outcome-structure.ts';
import type { CompiledOutcome, Limit, RuleKind } from './rule-kinds/rule-kind.ts';
import type { Field, Moment, RecordType, Rule, Rulebook, Stored } from '../document/document.ts';
import { type DocumentProblem } from '../document/well-formed.ts';
import type { Value } from '../values/value.ts';
import { type EntryPoint } from './entry-points.ts';
import { type CompiledNotice } from './notices.ts';
import type { Author, TraceEntry } from './trace-entry.ts';
import type { SlotIndex } from '../document/slots.ts';

/** Position of a rule in the running order of its record type. */
declare const brand: unique symbol;
export type RunIndex = number & { readonly [brand]: 'run' };
export const runIndexAt = (index: number): RunIndex => index as RunIndex;

export interface RuleReads {
  /** Slots read as they stand. */
  readonly present: readonly SlotIndex[];
  /** Slots read as they were stored before the write. */
  readonly previous: readonly SlotIndex[];
}

export interface CompiledRule {
  readonly rule: Rule;
  readonly kind: RuleKind<RuleKindKey> | undefined;
  readonly diagnostics: readonly Diagnostic[];
  /** Every formula and option name in it, where it stands. */
  readonly placed: Pick<CompiledOutcome, 'formulas' | 'options' | 'columns'>;
  readonly reads: RuleReads;
  /** Fields of other records that it reads. */
  readonly related: readonly RelatedRead[];
  /** Keys of the mapping tables that it asks. */
  readonly tables: ReadonlySet<string>;
  /** What its notifications say and to whom: read when they are made, of the settled record. */
  readonly told: { readonly present: readonly SlotIndex[]; readonly related: readonly RelatedRead[] };
  /** Slots whose change makes the rule look at the record; a change of its own target by somebody else is one. */
  readonly wakes: readonly SlotIndex[];
  /** Slots written. */
  readonly writes: readonly SlotIndex[];
  /** Slots whose values it takes back when they are not on offer: it looks at them in every write, after all others. */
  readonly confines: readonly SlotIndex[];
  /** Looked at whenever the record is new. */
  readonly onNewRecord: boolean;
  /** Its line of the trace where nothing woke it: the same each time. */
  readonly asleep: TraceEntry;
  /** Its result follows from present values alone; otherwise `eventBecause` says why not. */
  readonly standing: boolean;
  readonly eventBecause?: string;
  readonly condition?: Compiled;
  /** The parts between `and`, `or` and `not`, for traces and coverage; empty where the condition is one part. */
  readonly conditionParts: () => readonly ConditionPart[];
  /** The condition as a tree, for the analysis. */
  readonly conditionFormula?: Formula;
  readonly steps?: NonNullable<CompiledOutcome['steps']>;
  readonly fieldConstraints?: NonNullable<CompiledOutcome['demands']>;
  readonly notices: readonly CompiledNotice[];
  /** What its outcome is made of. */
  readonly structure: OutcomeStructure;
  /** As changes name it. */
  readonly author: Author;
  /** It compiles: it takes part in the run. */
  readonly compiles: boolean;
  /** Position in the order of the record type. */
  readonly runIndex: RunIndex;
  /** Rules that depend on each other in a ring share a number; -1 for none. */
  readonly circle: number;
}

export interface ConditionPart {
  readonly text: string;
  readonly evaluate: Compiled;
}

export interface Slot {
  readonly field: Field;
  readonly type: FieldType;
}

export interface TypeProgram {
  /** How numbers and days stand in what is said of its records. */
  readonly writing: Writing;
  readonly recordType: RecordType;
  readonly scope: Scope;
  readonly slots: readonly Slot[];
  readonly slotOf: ReadonlyMap<string, SlotIndex>;
  readonly entryPoints: ReadonlyMap<string, EntryPoint>;
  /** By the name that formulas give them. */
  readonly childLists: ReadonlyMap<string, ChildList>;
  /** In running order. */
  readonly rules: readonly CompiledRule[];
  /** For each slot the places in the order of the rules that it wakes. */
  readonly wokenBy: readonly (readonly RunIndex[])[];
  /** Places of the rules that a change of a related field wakes, by `pathKey`. */
  readonly wokenByRelated: ReadonlyMap<string, readonly RunIndex[]>;
  /** Rules that look at every write, those considered on each new record, and those that ask something of the settled record. */
  readonly everyWrite: readonly CompiledRule[];
  readonly onNewRecord: readonly CompiledRule[];
  readonly demanding: readonly CompiledRule[];
  /** For each slot the limits on its options, with the rules that set them. */
  readonly limitsOn: ReadonlyMap<SlotIndex, readonly { readonly rule: CompiledRule; readonly limit: Limit }[]>;
  /** Slots that only rules write: the target of a rule that is on, compiles and says *locked*. */
  readonly locked: ReadonlyMap<SlotIndex, CompiledRule>;
  /** For a moment and entry point: by place, whether the rule is on, sound and may act there. */
  readonly admitted: (moment: Moment, entryPoint: string) => readonly boolean[];
  /** Slots of fields that have to be filled in. */
  readonly required: readonly SlotIndex[];
  /** What the slots of a new record hold: stored, as formulas see it, and as its value before the write. */
  readonly starting: {
    readonly stored: readonly Stored[];
    readonly values: readonly Value[];
    readonly previous: readonly Value[];
  };
  /** Some rule reads values before the write. */
  readonly readsPrevious: boolean;
}

/** The rules of a record type that read another one along a route, with what they read there. */
export interface Reader {
  /** Key of the record type whose rules read. */
  readonly owner: string;
  /** In the order of the rules. */
  readonly reads: readonly RelatedRead[];
}

export interface Program {
  readonly rulebook: Rulebook;
  /** What formulas may ask for besides the clock. */
  readonly host: Host;
  /** How numbers and days stand in what is said of it. */
  readonly writing: Writing;
  readonly types: ReadonlyMap<string, TypeProgram>;
  readonly tables: ReadonlyMap<string, CompiledTable>;
  /** By record type, who reads its records along a route. */
  readonly readers: ReadonlyMap<string, readonly Reader[]>;
  /** Rules that do not compile are left out of the run and named here. */
  readonly broken: readonly CompiledRule[];
  /** Parts that have not the shape of such parts, or a key twice: they are left out as well. */
  readonly problems: readonly DocumentProblem[];
  /** Compiles record types, by key, that were not asked for yet, in short steps: for whoever has others waiting. */
  prepareTypes(keys: Iterable<string>): Generator<void, void>;
}

/** Names a field that is reached along a route: what a change of it wakes. */
export const pathKey = (route: readonly Hop[], field: string): string =>
  `${route.map((h) => `${h.by}:${h.field}:${h.to}`).join('/')}#${field}`;
