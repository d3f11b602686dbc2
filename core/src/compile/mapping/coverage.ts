/** How a mapping table meets the data: which rows sample records hit, and which of their keys no row answers. */
import { canonicalJson } from '../../document/canonical.ts';
import type { Cell, MappingTable, RecordType, Rulebook, Stored } from '../../document/document.ts';
import { findRuleKind } from '../rule-kinds/index.ts';
import { fieldTypeOf } from '../../language/field-types/index.ts';
import { temporalText } from '../../values/calendar.ts';
import { isBlank, isTemporal, type Value } from '../../values/value.ts';
import { Exhausted } from '../../values/meter.ts';
import type { CompiledTable } from './table.ts';

/** Whose records a table is held against, and which of their fields give its keys, column by column. */
export interface KeySource {
  readonly recordType: RecordType;
  /** Keys of the fields, in the order of the key columns. */
  readonly fields: readonly string[];
}

/**
 * Where the keys of a table come from: the fields that its key columns are bound to, where these are of one record type;
 * else a map rule that looks it up by plain fields. Undefined where neither is so.
 */
export function keySourceOf(table: MappingTable, { recordTypes, rules }: Rulebook): KeySource | undefined {
  const bound = table.keys.map((c) => c.field?.split('.') ?? []);
  const own = recordTypes.find((t) => bound.length > 0 && bound.every(([type]) => type === t.key));
  if (own) return { recordType: own, fields: bound.map(([, field]) => field!) };
  for (const rule of rules) {
    const asked = findRuleKind(rule.kind)?.structureOf?.(rule.outcome).table;
    const type = recordTypes.find((t) => t.key === rule.recordType);
    if (asked?.key !== table.key || !type) continue;
    const fields = table.keys.map((c) => type.fields.find((f) => f.name === asked.keys[c.key]?.trim())?.key);
    if (fields.every((f) => f !== undefined)) return { recordType: type, fields };
  }
  return undefined;
}

export interface TableGap {
  /** What a row for it has in its key cells, by column key. */
  readonly cells: Readonly<Record<string, Cell>>;
  /** Records that hold it. */
  readonly count: number;
}

export interface TableCoverage {
  /** Records that each row answers, by row. */
  readonly hits: readonly number[];
  /** Keys without an answer, most seen first. */
  readonly gaps: readonly TableGap[];
  /** Records of which all keys are blank. */
  readonly blank: number;
  /** Records in all. */
  readonly total: number;
}

/** What some records hold in some fields, in their order, and how many records hold it. */
export interface HeldValues {
  readonly held: readonly Stored[];
  readonly count: number;
}

/** Holds a table against what records have in the fields of its keys. */
export function coverageOf(compiled: CompiledTable, source: KeySource, values: readonly HeldValues[]): TableCoverage {
  const { table } = compiled;
  const fields = source.fields.map((key) => source.recordType.fields.find((f) => f.key === key));
  let [blank, total] = [0, 0];
  const hits = table.rows.map(() => 0);
  const gaps: TableGap[] = [];
  for (const { held, count } of values) {
    const keys = fields.map((f, i) => (f ? fieldTypeOf(f).read(held[i] ?? null, f) : null));
    total += count;
    if (keys.every(isBlank)) blank += count;
    const rows = matchingRows(compiled, keys);
    for (const row of rows) hits[row]! += count;
    if (rows.length > 0 || keys.every(isBlank)) continue;
    const cells = keys.map(cellOf);
    // Records cannot be named by a cell: no row can be offered for them.
    if (cells.includes(undefined)) continue;
    gaps.push({ cells: Object.fromEntries(table.keys.map((c, i) => [c.key, cells[i]!])), count });
  }
  gaps.sort((a, b) => b.count - a.count || (canonicalJson(a.cells) < canonicalJson(b.cells) ? -1 : 1));
  return { hits, gaps, blank, total };
}

/** A question that takes more work than a formula may has no answer here; the engine says so where a rule asks it. */
function matchingRows(table: CompiledTable, keys: readonly Value[]): readonly number[] {
  try {
    return table.matching(keys);
  } catch (e) {
    if (e instanceof Exhausted) return [];
    throw e;
  }
}

/** The key cell that accepts a value; undefined where none does. */
function cellOf(v: Value): Cell | undefined {
  if (isBlank(v)) return { blank: true };
  if (isTemporal(v)) return temporalText(v);
  return typeof v === 'string' || typeof v === 'number' || typeof v === 'boolean' ? v : undefined;
}
