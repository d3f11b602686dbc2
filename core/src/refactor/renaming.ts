/** What is renamed, and where in a rulebook a text stands. */
import type { PartRef } from '../document/parts.ts';

export type Renaming =
  | { readonly what: 'field'; readonly recordType: string; readonly key: string; readonly name: string }
  /** The plural of a record type: the child lists that have no name of their own. */
  | { readonly what: 'plural'; readonly recordType: string; readonly name: string }
  /** The other end of a lookup; without a name it is the plural again. */
  | { readonly what: 'children'; readonly recordType: string; readonly key: string; readonly name: string }
  | {
      readonly what: 'option';
      readonly recordType: string;
      readonly field: string;
      readonly key: string;
      readonly name: string;
    }
  | { readonly what: 'table'; readonly key: string; readonly name: string }
  | { readonly what: 'column'; readonly table: string; readonly key: string; readonly name: string };

export type OptionRenaming = Extract<Renaming, { what: 'option' }>;

/** A text of a part, by JSON Pointer (RFC 6901). */
export interface TextAt {
  readonly part: PartRef;
  readonly path: string;
  readonly text: string;
}
