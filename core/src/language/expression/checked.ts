/** What checking a formula finds out: plain data for the compiler, the engine and the analysis. */
import type { Diagnostic, TextRange } from '../../diagnostics/catalog.ts';
import type { Expression } from './ast.ts';
import type { FieldBinding } from './scope.ts';
import type { Hop, Type } from '../types/types.ts';
import type { SlotIndex } from '../../document/slots.ts';

/** A field that a formula reads; `previous` when it is the value stored before the write. */
export interface Read {
  readonly field: FieldBinding;
  readonly previous: boolean;
  readonly range: TextRange;
}

/** A field of another record that a formula reads, and how it came there from its own record. */
export interface RelatedRead {
  readonly route: readonly Hop[];
  /** Key of the record type, and of the field read; empty where a child list itself is asked for. */
  readonly recordType: string;
  readonly field: string;
  /** As it is written: `Customer.Name`. */
  readonly text: string;
  readonly range: TextRange;
}

/** What a formula depends on besides the fields of its record. */
export interface Uses {
  readonly related: readonly RelatedRead[];
  /** Keys of mapping tables. */
  readonly tables: ReadonlySet<string>;
  /** The formula asks for the clock. */
  readonly clock: boolean;
  /** It asks who writes. */
  readonly user: boolean;
  /** It asks what changed in the write. */
  readonly change: boolean;
}

/** What a name stands for when the formula runs. */
export type Meaning =
  | { readonly kind: 'table'; readonly key: string }
  /** The record itself, a child list of it, the record that a conversion starts from, or who writes. */
  | { readonly kind: 'self' | 'origin' | 'user' }
  | { readonly kind: 'children'; readonly name: string }
  | { readonly kind: 'field'; readonly slot: SlotIndex; readonly previous: boolean }
  /** A variable of the formula: place in the stack of variables. */
  | { readonly kind: 'variable'; readonly stackIndex: number }
  /** A member of the item that a filter looks at, where it has one of that name; otherwise what stands outside. */
  | { readonly kind: 'member'; readonly stackIndex: number; readonly otherwise: Meaning }
  | { readonly kind: 'function'; readonly name: string }
  | { readonly kind: 'unknown' };

/** The part of the rulebook that a name in a formula names. */
export type Named =
  | { readonly kind: 'field'; readonly recordType: string; readonly key: string }
  /** The other end of a lookup: the record type of the children, and the key of their lookup. */
  | { readonly kind: 'children'; readonly recordType: string; readonly field: string }
  | { readonly kind: 'table'; readonly key: string }
  | { readonly kind: 'column'; readonly table: string; readonly key: string }
  /** A field of the record that a conversion starts from, whatever its type. */
  | { readonly kind: 'origin'; readonly name: string }
  /** A member of a value whose type is not known before it runs. */
  | { readonly kind: 'member'; readonly name: string };

export interface Checked extends Uses {
  readonly type: Type;
  readonly types: ReadonlyMap<Expression, Type>;
  readonly meanings: ReadonlyMap<Expression, Meaning>;
  /** By name and path, where it names a part of the rulebook or may do so. */
  readonly named: ReadonlyMap<Expression, Named>;
  readonly reads: readonly Read[];
  readonly diagnostics: readonly Diagnostic[];
}

/** A name that stands for a value which the caller puts on the stack of variables before the formula runs. */
export interface Variable {
  readonly name: string;
  readonly type: Type;
}
