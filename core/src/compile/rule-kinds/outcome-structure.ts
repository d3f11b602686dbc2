/**
 * What an outcome is made of, as far as analysis, coverage and suggested tests look at it. A kind says the parts that it
 * has; whoever reads them asks for parts and never for kinds.
 */
import type { MatchMode } from '../../values/match-keys.ts';
import type { Band } from './bands.ts';
import type { Otherwise } from './otherwise.ts';

export interface OutcomeStructure {
  /** Writes only what is still blank: it contradicts nobody. */
  readonly fillsOnly?: true;
  /** Puts something else in the place of what it looks at: on its own target each run moves it on. */
  readonly replaces?: true;
  /** The formulas of which it says what happens when they are blank, other than leaving what is there. */
  readonly blanks?: () => readonly string[];
  /** Fields of other records that it writes: of the one behind a lookup (its key), or of each of a child list (its name). */
  readonly sends?: { readonly onto: string; readonly fields: readonly string[] };
  /** Where a number, date or text falls into. */
  readonly division?: {
    readonly bands: readonly Band[];
    /** Boundaries are day numbers. */
    readonly dates: boolean;
    readonly groups: readonly { readonly values: readonly string[] }[];
    readonly blank: Otherwise;
  };
  /** Values that a formula is matched with one by one; `path` is where they stand in the outcome. */
  readonly pairs?: { readonly formula: string; readonly from: readonly string[]; readonly path: string };
  readonly table?: {
    readonly key: string;
    /** The formula for each key column. */
    readonly keys: Readonly<Record<string, string>>;
    /** Keys of the output columns that it takes, and of the fields of the same record that each goes to. */
    readonly columns: readonly string[];
    readonly targets: readonly string[];
  };
  readonly match?: {
    readonly recordType: string;
    readonly ways: readonly { readonly field: string; readonly mode: MatchMode }[];
    readonly path: string;
  };
}
