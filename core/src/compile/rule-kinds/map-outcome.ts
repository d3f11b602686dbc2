/** The outcome of the map kind: where values come from, where they go, and what happens where there is none. */
import type { CellValue } from '../../document/document.ts';
import { type MatchMode, matchModes } from '../../values/match-keys.ts';
import { looseList, looseObject, looseText, oneOf, readOtherwise } from './read-outcome.ts';
import { type ListUpdateMode, listUpdateModes } from './rule-kind.ts';
import { type Otherwise } from './otherwise.ts';

/** One way to find a record: a field of it, what it has to match, and how. */
export interface MatchBy {
  /** Key of a field of the record type that is searched. */
  readonly field: string;
  /** FEEL. */
  readonly formula: string;
  readonly mode: MatchMode;
}

export type MapSource =
  /** Option to option (or text to text) of one formula; case and spaces do not count. */
  | {
      readonly by: 'pairs';
      readonly formula: string;
      readonly pairs: readonly { readonly from: string; readonly to: CellValue | readonly string[] | null }[];
    }
  /** Rows of a mapping table; a formula for each key column. */
  | { readonly by: 'table'; readonly table: string; readonly keys: Readonly<Record<string, string>> }
  /** A record found by its fields: the first way that finds any decides. */
  | { readonly by: 'match'; readonly recordType: string; readonly ways: readonly MatchBy[] };

export interface MapOutput {
  /** Table: key of the output column. Match: a formula over `match`, or empty for the record itself. Pairs: nothing. */
  readonly value: string;
  /** Key of the field written, on the record that `onto` names. */
  readonly target: string;
  readonly way: ListUpdateMode;
  /** What happens to this field where there is no value, where that is something else than for the others. */
  readonly otherwise?: Partial<Readonly<Record<Ending, Otherwise>>>;
}

/** The key is blank; nothing was found; more than one was. */
export const endings = ['blank', 'none', 'several'] as const;
export type Ending = (typeof endings)[number];

/** What happens to the field of an output. */
export const endOf = (map: MapRule, output: MapOutput, ending: Ending): Otherwise =>
  output.otherwise?.[ending] ?? map[ending];

/** Values from a table, from pairs of options or from a matched record. */
export interface MapRule {
  readonly source: MapSource;
  /** Empty: this record. Key of a lookup: the record that it names. Name of a child list: each of its records. */
  readonly onto: string;
  readonly outputs: readonly MapOutput[];
  /** The key is blank; nothing was found; more than one was. */
  readonly blank: Otherwise;
  readonly none: Otherwise;
  readonly several: Otherwise;
}

export function readMap(outcome: unknown): MapRule {
  const o = looseObject(outcome);
  return {
    source: readSource(o['source']),
    onto: looseText(o['onto']),
    outputs: looseList(o['outputs']).map((out) => ({
      value: looseText(out['value']),
      target: looseText(out['target']),
      way: oneOf(out['way'], listUpdateModes),
      ...ownEndings(out['otherwise']),
    })),
    blank: readOtherwise(o['blank']),
    none: readOtherwise(o['none']),
    several: readOtherwise(o['several']),
  };
}

function ownEndings(input: unknown): Pick<MapOutput, 'otherwise'> {
  const o = looseObject(input);
  const own = endings.filter((e) => o[e] !== undefined).map((e) => [e, readOtherwise(o[e])] as const);
  return own.length > 0 ? { otherwise: Object.fromEntries(own) } : {};
}

function readSource(source: unknown): MapSource {
  const o = looseObject(source);
  switch (o['by']) {
    case 'table': {
      const keys = Object.entries(looseObject(o['keys'])).map(([k, v]) => [k, looseText(v)] as const);
      return { by: 'table', table: looseText(o['table']), keys: Object.fromEntries(keys) };
    }
    case 'match':
      return {
        by: 'match',
        recordType: looseText(o['recordType']),
        ways: looseList(o['ways']).map((w) => ({
          field: looseText(w['field']),
          formula: looseText(w['formula']),
          mode: oneOf(w['mode'], matchModes),
        })),
      };
    default:
      return {
        by: 'pairs',
        formula: looseText(o['formula']),
        pairs: looseList(o['pairs']).map((p) => ({
          from: looseText(p['from']),
          to: (p['to'] ?? null) as MapSourcePairTo,
        })),
      };
  }
}

export type MapSourcePairTo = CellValue | readonly string[] | null;
