/** Bands of a categorize rule as a mapping table, and back: what DMN knows of bands. */
import { readCategorize } from '../compile/rule-kinds/categorize-outcome.ts';
import { columnTypeOf } from '../language/field-types/column-types.ts';
import type { Cell, CellValue, MappingTable, Rule, RecordType, TableColumn } from '../document/document.ts';
import { dateOfDay, dateText, FeelDate } from '../values/calendar.ts';

const sourceKey = 'source';
const resultKey = 'result';

/** The bands (or groups) of a rule as rows; blank and outside are its own matter and stay with it. */
export function bandsToTable(rule: Rule, recordType: RecordType): MappingTable {
  const { source, target, bands, groups, dates } = readCategorize(rule.outcome);
  const field = recordType.fields.find((f) => f.key === target);
  const boundary = (n: number): string | number => (dates ? dateText(dateOfDay(n)) : n);
  const rows = bands.map(({ from, fromOpen, to, toClosed, result }): MappingTable['rows'][number] => ({
    ...(from === undefined && to === undefined
      ? {}
      : {
          [sourceKey]: {
            ...(from === undefined ? {} : { from: boundary(from) }),
            ...(fromOpen ? { fromOpen } : {}),
            ...(to === undefined ? {} : { to: boundary(to) }),
            ...(toClosed ? { toClosed } : {}),
          },
        }),
    [resultKey]: result,
  }));
  return {
    key: rule.key,
    name: rule.name,
    purpose: rule.purpose,
    hitPolicy: 'unique',
    keys: [{ key: sourceKey, name: source, type: groups.length > 0 ? 'text' : dates ? 'date' : 'number' }],
    outputs: [{ key: resultKey, name: field?.name ?? target }],
    rows: groups.length > 0 ? groups.map((g) => ({ [sourceKey]: g.values, [resultKey]: g.result })) : rows,
  };
}

interface StoredBand {
  readonly from?: number | string;
  readonly fromOpen?: boolean;
  readonly to?: number | string;
  readonly toClosed?: boolean;
}

const isRange = (cell: Cell): cell is StoredBand & Cell =>
  typeof cell === 'object' && cell !== null && !Array.isArray(cell) && ('from' in cell || 'to' in cell);

/** What a cell without a list of texts is as a band: no cell is every value, one value begins and ends there. */
function bandOf(cell: Cell | undefined, column: TableColumn): StoredBand | undefined {
  if (cell === undefined || cell === null) return {};
  if (isRange(cell)) return cell;
  const isDay = columnTypeOf(column.type ?? 'text').read(cell as CellValue) instanceof FeelDate;
  return typeof cell === 'number' || (isDay && typeof cell === 'string')
    ? { from: cell, to: cell, toClosed: true }
    : undefined;
}

const textsOf = (cell: Cell | undefined): readonly string[] | undefined => {
  const texts = Array.isArray(cell) ? (cell as readonly CellValue[]) : [cell];
  return texts.every((t) => typeof t === 'string') ? texts : undefined;
};

/** Ascending by where they begin; a band without a lower limit comes first. */
function inOrder(a: StoredBand, b: StoredBand): number {
  if (a.from === b.from) return Number(a.fromOpen === true) - Number(b.fromOpen === true);
  if (a.from === undefined || b.from === undefined) return a.from === undefined ? -1 : 1;
  return a.from < b.from ? -1 : 1;
}

export type ReadBands = { readonly rule: Rule } | { readonly problems: readonly string[] };

/** The rule with the bands, or the groups, of a table of one key and one output; what its cells hold beyond those is refused. */
export function bandsFromTable(rule: Rule, table: MappingTable): ReadBands {
  const [key, ...moreKeys] = table.keys;
  const [output, ...moreOutputs] = table.outputs;
  if (!key || !output || moreKeys.length > 0 || moreOutputs.length > 0)
    return { problems: [`${table.name}: bands have one key and one output.`] };
  const problems: string[] = [];
  const bands: (StoredBand & { readonly result: unknown })[] = [];
  const groups: { readonly values: readonly string[]; readonly result: unknown }[] = [];
  table.rows.forEach((row, i) => {
    const [cell, result] = [row[key.key], row[output.key]];
    const band = bandOf(cell, key);
    const values = band ? undefined : textsOf(cell);
    if (band) bands.push({ ...band, result });
    else if (values) groups.push({ values, result });
    else problems.push(`${table.name}, row ${i + 1}: the key is neither a range nor texts.`);
    if (typeof result !== 'string' && typeof result !== 'number')
      problems.push(`${table.name}, row ${i + 1}: the output is no text or number.`);
  });
  if (bands.length > 0 && groups.length > 0) problems.push(`${table.name}: some keys are ranges, others are texts.`);
  if (problems.length > 0) return { problems };
  const { groups: _, ...outcome } = rule.outcome as Record<string, unknown>;
  const divided = groups.length > 0 ? { bands: [], groups } : { bands: bands.sort(inOrder) };
  return { rule: { ...rule, outcome: { ...outcome, ...divided } } };
}
