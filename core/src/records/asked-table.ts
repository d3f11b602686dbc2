/**
 * A mapping table whose rows stand elsewhere: a form asks for those that its record needs. Keys go over as texts, and what
 * comes back are the rows that accept them, so that the hit policy is one and the same wherever it is applied.
 */
import { compileRows, type CompiledTable } from '../compile/mapping/table.ts';
import type { MappingTable, RecordType } from '../document/document.ts';
import type { Hit, LookupTable } from '../language/expression/related.ts';
import {
  FeelDate,
  FeelDateTime,
  FeelTime,
  parseDate,
  parseDateTime,
  parseDuration,
  parseTime,
  temporalText,
} from '../values/calendar.ts';
import { Exhausted } from '../values/meter.ts';
import { isNumber, numberToText, parseNumber } from '../values/number.ts';
import { isBlank, isList, isTemporal, type ContextValue, type Value } from '../values/value.ts';
import type { FoundRows, RowsQuery, SentKey } from './row-answers.ts';

/** Stands for what no cell can name: a context, a function, a record, a list within a list. */
const nameless = 'x';
const namelessValue: Value = new Map<string, Value>([['', null]]);

export function sentKey(v: Value): SentKey {
  if (isBlank(v)) return null;
  if (typeof v === 'string') return `s${v}`;
  if (isNumber(v)) return `n${numberToText(v)}`;
  if (typeof v === 'boolean') return v ? 'b1' : 'b0';
  if (isList(v)) return v.map((item) => (isList(item) && !isBlank(item) ? nameless : (sentKey(item) as string | null)));
  if (!isTemporal(v)) return nameless;
  const kind = v instanceof FeelDate ? 'd' : v instanceof FeelTime ? 't' : v instanceof FeelDateTime ? 'i' : 'p';
  return `${kind}${temporalText(v)}`;
}

const readers: Readonly<Record<string, (text: string) => Value>> = {
  s: (text) => text,
  n: parseNumber,
  b: (text) => text === '1',
  d: parseDate,
  t: parseTime,
  i: parseDateTime,
  p: parseDuration,
};

/** What `sentKey` made a text of. */
export function receivedKey(sent: SentKey): Value {
  if (sent === null) return null;
  if (typeof sent !== 'string') return sent.map(receivedKey);
  return readers[sent.slice(0, 1)]?.(sent.slice(1)) ?? namelessValue;
}

/** The rows that accept the keys of a question. */
export function rowsFor({ keys }: RowsQuery, compiled: CompiledTable): FoundRows {
  const { keyColumns, table } = compiled;
  if (keys.length !== keyColumns.length) return [];
  try {
    return compiled.matching(keys.map(receivedKey)).map((index) => ({ index, row: table.rows[index]! }));
  } catch (e) {
    if (e instanceof Exhausted) return null;
    throw e;
  }
}

/** Answers lookups by asking for the rows that the keys fit. */
export class AskedTable implements LookupTable {
  readonly rows: readonly ContextValue[] = [];

  /** `frame`: the table without its rows. @param ask Throws where there is no answer yet. */
  constructor(
    private readonly frame: MappingTable,
    private readonly book: { readonly recordTypes: readonly RecordType[] },
    private readonly ask: (query: RowsQuery) => FoundRows,
  ) {}

  /** Formulas that look at a whole table have it at hand. */
  equal(): undefined {
    return undefined;
  }

  /** @throws {Exhausted} where the whole table would. */
  find(keys: readonly Value[]): Hit {
    const found = this.ask({ table: this.frame.key, keys: keys.map(sentKey) });
    if (!found) throw new Exhausted();
    const hit = compileRows(
      this.frame,
      found.map((f) => f.row),
      this.book,
    ).find(keys);
    return hit.found === 'none' ? hit : { ...hit, rows: hit.rows.map((i) => found[i]!.index) };
  }
}
