/** Bands of a categorize rule as a mapping table, and back: what DMN knows of bands. */
import { readCategorize } from '../compile/rule-kinds/categorize.ts';
import type { Cell, MappingTable, Rule, RecordType } from '../document/document.ts';
import { dateOfDay, dateText } from '../values/calendar.ts';

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

interface RangeCell {
  readonly from?: number | string;
  readonly to?: number | string;
}

const isRange = (cell: Cell | undefined): cell is RangeCell & Cell =>
  typeof cell === 'object' && cell !== null && !Array.isArray(cell) && ('from' in cell || 'to' in cell);

/** Ascending by where they begin; a band without a lower limit comes first. */
function inOrder(a: RangeCell, b: RangeCell): number {
  if (a.from === undefined || b.from === undefined) return a.from === b.from ? 0 : a.from === undefined ? -1 : 1;
  return a.from < b.from ? -1 : a.from > b.from ? 1 : 0;
}

export type ReadBands = { readonly rule: Rule } | { readonly problems: readonly string[] };

/** The rule with the bands of a table of one key and one output; what its cells hold beyond ranges is refused. */
export function bandsFromTable(rule: Rule, table: MappingTable): ReadBands {
  const [key, ...moreKeys] = table.keys;
  const [output, ...moreOutputs] = table.outputs;
  if (!key || !output || moreKeys.length > 0 || moreOutputs.length > 0)
    return { problems: [`${table.name}: bands have one key and one output.`] };
  const problems: string[] = [];
  const bands = table.rows.flatMap((row, i) => {
    const cell = row[key.key] ?? {};
    const result = row[output.key];
    if (!isRange(cell) && Object.keys(cell).length > 0)
      problems.push(`${table.name}, row ${i + 1}: the key is no range.`);
    if (typeof result !== 'string' && typeof result !== 'number')
      problems.push(`${table.name}, row ${i + 1}: the output is no text or number.`);
    return [{ ...(cell as RangeCell), result }];
  });
  if (problems.length > 0) return { problems };
  const { groups: _, ...outcome } = rule.outcome as Record<string, unknown>;
  return { rule: { ...rule, outcome: { ...outcome, bands: bands.sort(inOrder) } } };
}
