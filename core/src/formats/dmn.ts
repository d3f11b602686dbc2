/** Mapping tables as DMN 1.3 decision tables (OMG), in and out. Whatever cannot be read whole is an error with its place. */
import { DmnModdle } from 'dmn-moddle';
import { columnTypeKeys, columnTypeOf, columnTypeOfDmn } from '../language/field-types/column-types.ts';
import type { Cell, CellValue, HitPolicy, MappingTable, Rulebook, TableColumn } from '../document/document.ts';
import { hitPolicies } from '../document/document.ts';
import { columnField } from '../language/expression/shapes.ts';
import { quoteText } from '../language/types/text-literal.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
import {
  keyCellFromFeel,
  keyCellToFeel,
  outputCellFromFeel,
  outputCellToFeel,
  type FeelWriter,
  type ReadText,
} from './cell-text.ts';
import { columnOfHeading } from './table-csv.ts';

type Element = Record<string, unknown>;

const aggregations = { sum: 'SUM', min: 'MIN', max: 'MAX', count: 'COUNT' } as const;

/** XML of one document with a decision for each table. Keys become ids. */
export async function tablesToDmn(
  name: string,
  tables: readonly MappingTable[],
  book: Pick<Rulebook, 'recordTypes'>,
): Promise<string> {
  const moddle = new DmnModdle();
  const create = (type: string, attributes: Element): Element => moddle.create(`dmn:${type}`, attributes) as Element;
  const literal = (id: string, text: string): Element => create('LiteralExpression', { id, text });
  const decisions = tables.map((table) => {
    const withValues = (c: TableColumn) => ({ c, ...dmnValues(c, book) });
    const [keys, outputs] = [table.keys.map(withValues), table.outputs.map(withValues)];
    const id = (...parts: readonly (string | number)[]): string => [xmlId(table.key), ...parts.map(String)].join('-');
    const logic = create('DecisionTable', {
      id: id('table'),
      hitPolicy: table.hitPolicy.toUpperCase(),
      ...(table.aggregation ? { aggregation: aggregations[table.aggregation] } : {}),
      input: keys.map(({ c, typeRef }) =>
        create('InputClause', {
          id: id('in', xmlId(c.key)),
          label: c.name,
          inputExpression: create('LiteralExpression', {
            id: id('ex', xmlId(c.key)),
            typeRef,
            text: c.name,
          }),
        }),
      ),
      output: outputs.map(({ c, typeRef, write }) =>
        create('OutputClause', {
          id: id('out', xmlId(c.key)),
          label: c.name,
          name: c.name,
          typeRef,
          ...(c.order
            ? {
                outputValues: create('UnaryTests', {
                  id: id('order', xmlId(c.key)),
                  text: c.order.map((v) => outputCellToFeel(v, write)).join(', '),
                }),
              }
            : {}),
        }),
      ),
      rule: table.rows.map((row, i) =>
        create('DecisionRule', {
          id: id('row', i + 1),
          inputEntry: keys.map(({ c, write }, k) =>
            create('UnaryTests', { id: id('row', i + 1, 'in', k + 1), text: keyCellToFeel(row[c.key], write) }),
          ),
          outputEntry: outputs.map(({ c, write }, k) =>
            literal(id('row', i + 1, 'out', k + 1), outputCellToFeel(row[c.key], write)),
          ),
        }),
      ),
    });
    return create('Decision', { id: id('decision'), name: table.name, decisionLogic: logic });
  });
  const definitions = create('Definitions', {
    id: 'definitions',
    name,
    namespace: 'urn:rigid-rule',
    drgElement: decisions,
  });
  const { xml } = await moddle.toXML(definitions, { format: true });
  return xml;
}

/** How the values of a column are named and written: those of the field that it is bound to, where it is. */
function dmnValues(
  column: TableColumn,
  book: Pick<Rulebook, 'recordTypes'>,
): { readonly typeRef: string; readonly write: FeelWriter } {
  const field = columnField(column, book);
  const type = field && fieldTypeOf(field);
  if (!field || !type?.dmn) {
    const { typeRef, toFeel } = columnTypeOf(type ? type.column : column.type);
    return { typeRef, write: toFeel };
  }
  const { typeRef, call } = type.dmn;
  const write = (v: CellValue): string => {
    const coerced = type.coerce(v, field);
    return `${call}(${quoteText(String('value' in coerced ? coerced.value : v))})`;
  };
  return { typeRef, write };
}

const xmlId = (key: string): string => key.replace(/[^\w-]/g, '_').replace(/^(?=[^A-Za-z_])/, '_');

export type ReadDmn = { readonly tables: readonly MappingTable[] } | { readonly problems: readonly string[] };

/** The table that takes what is read: its columns say which constants stand in cells as texts. */
interface Into {
  readonly table: MappingTable;
  readonly book: Pick<Rulebook, 'recordTypes'>;
}

/** The decision tables of a DMN document. Any warning of the reader, and any cell that is no constant, refuses it. */
export async function tablesFromDmn(xml: string, into?: Into): Promise<ReadDmn> {
  let root: Element;
  try {
    const read = await new DmnModdle().fromXML(xml);
    if (read.warnings.length > 0) return { problems: read.warnings.map((w) => oneLine(w.message)) };
    root = read.rootElement as Element;
  } catch (e) {
    return { problems: [oneLine((e as Error).message)] };
  }
  const problems: string[] = [];
  const tables = listOf(root['drgElement']).flatMap((decision) => {
    const logic = decision['decisionLogic'] as Element | undefined;
    if (logic?.['$type'] !== 'dmn:DecisionTable') return [];
    return [readTable(textOf(decision['name']) || textOf(decision['id']), logic, problems, into)];
  });
  if (tables.length === 0) problems.push('The document holds no decision table.');
  return problems.length > 0 ? { problems } : { tables };
}

const oneLine = (message: string): string => message.replace(/\s+/g, ' ').trim();
const listOf = (v: unknown): readonly Element[] => (Array.isArray(v) ? (v as Element[]) : []);
const textOf = (v: unknown): string => (typeof v === 'string' ? v : '');
const keyOf = (name: string): string =>
  name
    .trim()
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-|-$/g, '');

/** The function by which DMN writes what the table's column of that name holds, where it holds moments or durations. */
function callOf({ name }: TableColumn, { table, book }: Into): string | undefined {
  const own = columnOfHeading(table, name);
  const field = own && columnField(own, book);
  return field && fieldTypeOf(field).dmn?.call;
}

function readTable(name: string, logic: Element, problems: string[], into?: Into): MappingTable {
  const typeOf = (ref: unknown): Pick<TableColumn, 'type'> => {
    const found = columnTypeOfDmn(ref)?.key;
    return found && found !== columnTypeKeys[0] ? { type: found } : {};
  };
  const keys = listOf(logic['input']).map((input): TableColumn => {
    const expression = input['inputExpression'] as Element | undefined;
    const label = textOf(input['label']) || textOf(expression?.['text']);
    return { key: keyOf(label), name: label, ...typeOf(expression?.['typeRef']) };
  });
  const outputs = listOf(logic['output']).map((output): TableColumn => {
    const label = textOf(output['name']) || textOf(output['label']) || 'Result';
    const order = textOf((output['outputValues'] as Element | undefined)?.['text']);
    const read = order ? keyCellFromFeel(order) : { cell: null };
    const listed = 'cell' in read && (typeof read.cell === 'string' ? [read.cell] : read.cell);
    const values = Array.isArray(listed) ? { order: listed as string[] } : {};
    return { key: keyOf(label), name: label, ...typeOf(output['typeRef']), ...values };
  });
  const policy = (textOf(logic['hitPolicy']) || 'UNIQUE').toLowerCase() as HitPolicy;
  if (!hitPolicies.includes(policy)) problems.push(`${name}: the hit policy ${policy} is not known.`);
  const aggregation = textOf(logic['aggregation']).toLowerCase();
  const rows = listOf(logic['rule']).map((rule, i) => {
    const row: Record<string, Cell> = {};
    const read = (
      columns: readonly TableColumn[],
      entries: readonly Element[],
      from: (text: string, call?: string) => ReadText,
    ): void => {
      columns.forEach((column, at) => {
        const result = from(textOf(entries[at]?.['text']), into && callOf(column, into));
        if ('problem' in result) problems.push(`${name}, row ${i + 1}, ${column.name}: ${result.problem}`);
        else if (result.cell !== null) row[column.key] = result.cell;
      });
    };
    read(keys, listOf(rule['inputEntry']), keyCellFromFeel);
    read(outputs, listOf(rule['outputEntry']), outputCellFromFeel);
    return row;
  });
  return {
    key: keyOf(name),
    name,
    purpose: '',
    hitPolicy: policy,
    ...(aggregation ? { aggregation: aggregation as NonNullable<MappingTable['aggregation']> } : {}),
    keys,
    outputs,
    rows,
  };
}
