/** What names mean inside the formulas of one record type. */
import { functionNames } from '../functions/index.ts';
import type { Field, MappingTable, RecordType, Rulebook, TableColumn } from '../../document/document.ts';
import { KnownNames, type NameScope } from './known-names.ts';
import { createParser, type FormulaParser } from './parse.ts';
import { anyRecord, shapesOf, tableType, typeOfField } from './shapes.ts';
import { anyType, textType, type RecordShape, type Type } from '../types/types.ts';
import { type SlotIndex, slotAt } from '../../document/slots.ts';
import { onceEach } from '../../values/once-each.ts';

export interface FieldBinding {
  readonly field: Pick<Field, 'name'> & { readonly key?: string };
  /** Place of the field's value in the record that a formula runs on. */
  readonly slot: SlotIndex;
  readonly type: Type;
}

export interface TableBinding {
  readonly key: string;
  readonly keys: readonly TableColumn[];
  readonly outputs: readonly TableColumn[];
  readonly type: Type;
}

export interface Scope {
  readonly fields: ReadonlyMap<string, FieldBinding>;
  /** Mapping tables by name. */
  readonly tables: ReadonlyMap<string, TableBinding>;
  /** The record itself, and all record types by key; absent where formulas run without a rulebook. */
  readonly self?: RecordShape;
  readonly shapes?: ReadonlyMap<string, RecordShape>;
  /** Type of the record that a conversion starts from. */
  readonly origin?: Type;
  readonly user?: Type;
  /** The document that the names come from. */
  readonly book?: ScopeBook;
  readonly names: KnownNames;
  readonly parser: FormulaParser;
  /** Former names of this type's fields, with the present ones. */
  readonly former?: ReadonlyMap<string, string>;
}

export const previousName = 'previous';
/** Names of the record itself, of the one that a conversion starts from, and of who writes. */
export const selfName = 'record';
export const originName = 'origin';
export const userName = 'user';

/** A scope with further names, of values that are not fields. */
export function extendScope(scope: Scope, names: readonly string[]): Scope {
  const known = scope.names.with(names);
  return { ...scope, names: known, parser: createParser(known) };
}

/** A scope of names whose values come in the order of `names` and may be anything: what the command line gives. */
export function createOpenScope(names: readonly string[], known: NameScope = {}): Scope {
  const fields = new Map(names.map((name, slot) => [name, { field: { name }, slot: slotAt(slot), type: anyType }]));
  const own = Object.assign(Object.create(null) as Record<string, NameScope | true>, known);
  for (const name of functionNames) own[name] ??= true;
  const all = KnownNames.nested(own);
  return { fields, tables: new Map(), names: all, parser: createParser(all) };
}

export type ScopeBook = Pick<Rulebook, 'recordTypes'> &
  Partial<Pick<Rulebook, 'tables' | 'userRecordType' | 'formerNames'>>;

/** What formulas of all record types of a document may name. */
type BookScope = Required<Pick<Scope, 'shapes' | 'tables' | 'origin' | 'user' | 'names' | 'parser'>>;

/** What a record type's scope has of others, for all record types at once. */
const scopeOfBook: (book: ScopeBook) => BookScope = onceEach(createBookScope);

function createBookScope(book: ScopeBook): BookScope {
  const shapes = shapesOf(book);
  const tables = new Map(
    (book.tables ?? []).map((t) => [
      t.name,
      { key: t.key, keys: t.keys, outputs: t.outputs, type: tableType(t, book) },
    ]),
  );
  const contact = shapes.get(book.userRecordType ?? '');
  const userMembers = new Map<string, Type>([
    ['name', textType],
    ['email', textType],
    ['role', textType],
    ['contact', contact ? { kind: 'record', of: contact } : anyType],
  ]);
  const names = KnownNames.flat(
    new Set([
      ...functionNames,
      ...[...shapes.values()].flatMap((s) => s.memberNames()),
      ...tableNames(book.tables ?? []),
    ]),
  );
  return {
    shapes,
    tables,
    origin: { kind: 'record', of: anyRecord(book) },
    user: { kind: 'context', members: userMembers },
    names,
    parser: createParser(names),
  };
}

/** What names mean in formulas of a record type; those of all types of one document share its parser. */
export function createScope(recordType: RecordType, book: ScopeBook = { recordTypes: [recordType] }): Scope {
  const shared = scopeOfBook(book);
  const { shapes, names } = shared;
  const fields = new Map<string, FieldBinding>();
  recordType.fields.forEach((field, slot) => {
    fields.set(field.name, { field, slot: slotAt(slot), type: typeOfField(field, shapes) });
  });
  const own = [...fields.keys()].filter((name) => !names.has(name));
  const former = Object.entries(book.formerNames ?? {})
    .filter(([key]) => key.startsWith(`${recordType.key}.`))
    .map(([key, now]) => [key.slice(recordType.key.length + 1), now] as const);
  const scope = {
    ...shared,
    fields,
    ...(shapes.has(recordType.key) ? { self: shapes.get(recordType.key)! } : {}),
    book,
    former: new Map(former),
  };
  return own.length === 0 ? scope : extendScope(scope, own);
}

const tableNames = (tables: readonly MappingTable[]): string[] =>
  tables.flatMap((t) => [t.name, ...t.keys.map((c) => c.name), ...t.outputs.map((c) => c.name)]);
