/** What formulas can reach of records and mapping tables: worked out from the document, by name. */
import { columnTypeOf } from '../field-types/column-types.ts';
import { fieldTypeOf, linkedType } from '../field-types/index.ts';
import { onceEach } from '../../values/once-each.ts';
import type { Field, MappingTable, RecordType, Rulebook, TableColumn } from '../../document/document.ts';
import { anyType, listOf, type RecordMember, type RecordShape, type Type } from '../types/types.ts';

export interface ChildList {
  /** As formulas name it. */
  readonly name: string;
  /** Key of the record type of the children, and of their lookup that names the parent. */
  readonly recordType: string;
  readonly field: string;
}

type Book = Pick<Rulebook, 'recordTypes'>;

/** The child lists of a record type: the other ends of the lookups that name it. */
export const childListsOf = (recordType: string, book: Book): readonly ChildList[] =>
  allChildLists(book.recordTypes).get(recordType) ?? [];

/** Shapes of all record types; each member is worked out when it is first asked for, since shapes may name each other. */
export function shapesOf(book: Book): ReadonlyMap<string, RecordShape> {
  const shapes = new Map<string, RecordShape>();
  const lists = allChildLists(book.recordTypes);
  for (const type of book.recordTypes) shapes.set(type.key, new Shape(type, lists.get(type.key) ?? [], shapes));
  return shapes;
}

/** By the record type whose lists they are: one pass over all fields, however many record types there are. */
const allChildLists = onceEach((recordTypes: Book['recordTypes']): ReadonlyMap<string, readonly ChildList[]> => {
  const lists = new Map<string, ChildList[]>();
  for (const t of recordTypes)
    for (const f of t.fields) {
      const to = linkedType(f);
      if (to === undefined) continue;
      const own = lists.get(to) ?? [];
      own.push({ name: f.children ?? t.plural, recordType: t.key, field: f.key });
      lists.set(to, own);
    }
  return lists;
});

class Shape implements RecordShape {
  readonly key: string;
  readonly name: string;
  private readonly members: ReadonlyMap<string, () => RecordMember>;

  constructor(type: RecordType, lists: readonly ChildList[], shapes: ReadonlyMap<string, RecordShape>) {
    this.key = type.key;
    this.name = type.name;
    const members = new Map<string, () => RecordMember>();
    for (const list of lists) {
      const hop = { by: 'children', field: list.field, to: list.recordType } as const;
      members.set(list.name, () => {
        const of = shapes.get(list.recordType)!;
        return { type: listOf({ kind: 'record', of, route: [hop] }), hop };
      });
    }
    for (const field of type.fields)
      members.set(field.name, () => ({ type: typeOfField(field, shapes), field: field.key }));
    this.members = members;
  }

  member(name: string): RecordMember | undefined {
    return this.members.get(name)?.();
  }

  memberNames(): readonly string[] {
    return [...this.members.keys()];
  }
}

/** A record of whichever type: its members may be anything. What a conversion starts from. */
export function anyRecord({ recordTypes }: Book): RecordShape {
  const names = new Set(recordTypes.flatMap((t) => t.fields.map((f) => f.name)));
  return {
    key: '',
    name: 'record',
    member: (name) => (names.has(name) ? { type: anyType } : undefined),
    memberNames: () => [...names],
  };
}

/** The type of a field inside formulas; a lookup is the record that it names. */
export function typeOfField(field: Field, shapes: ReadonlyMap<string, RecordShape>): Type {
  const of = shapes.get(linkedType(field) ?? '');
  if (!of) return fieldTypeOf(field).typeOf(field);
  return { kind: 'record', of, route: [{ by: 'lookup', field: field.key, to: of.key }] };
}

/** The field whose values a column holds. */
export function columnField(column: TableColumn, { recordTypes }: Book): Field | undefined {
  const [type, field] = column.field?.split('.') ?? [];
  return recordTypes.find((t) => t.key === type)?.fields.find((f) => f.key === field);
}

export function columnType(column: TableColumn, book: Book): Type {
  const field = columnField(column, book);
  return field ? fieldTypeOf(field).typeOf(field) : columnTypeOf(column.type).type;
}

/** A mapping table as formulas see it: a list of contexts with the columns as members. */
export function tableType(table: MappingTable, book: Book): Type {
  const columns = [...table.keys, ...table.outputs];
  // A key cell may hold a list or a range as well: only plain outputs have the type of their column.
  const members = new Map(columns.map((c) => [c.name, columnType(c, book)] as const));
  return listOf({ kind: 'context', members, table: table.key });
}
