/** What formulas call the lists at the other ends of lookups: each name says one thing of a record type. */
import type { Field, RecordType, Rulebook } from '../document/document.ts';
import { linkedType } from '../language/field-types/index.ts';
import { childListsOf, type ChildList } from '../language/expression/shapes.ts';

type Book = Pick<Rulebook, 'recordTypes'>;

export interface NamedTwice {
  /** The record type of which it is said. */
  readonly parent: RecordType;
  readonly list: string;
  /** The lookup at whose other end the list is, and its record type. */
  readonly child: RecordType;
  readonly field: Field;
}

/** Lists whose name another list of the same record type, or one of its fields, has already: nobody can tell which is meant. */
export function listsNamedTwice(book: Book): readonly NamedTwice[] {
  return book.recordTypes.flatMap((parent) => {
    const taken = new Set(parent.fields.map((f) => f.name));
    return childListsOf(parent.key, book).flatMap((list): NamedTwice[] => {
      if (!taken.has(list.name)) {
        taken.add(list.name);
        return [];
      }
      const child = book.recordTypes.find((t) => t.key === list.recordType)!;
      return [{ parent, list: list.name, child, field: child.fields.find((f) => f.key === list.field)! }];
    });
  });
}

/** A name for the list at the other end of a lookup where the usual one is taken there; undefined where it is free. */
export function freeListName(field: Field, child: RecordType, book: Book): string | undefined {
  const parent = book.recordTypes.find((t) => t.key === linkedType(field));
  if (!parent) return undefined;
  const isOwn = (list: ChildList): boolean => list.recordType === child.key && list.field === field.key;
  const others = childListsOf(parent.key, book).filter((list) => !isOwn(list));
  const taken = new Set([...parent.fields, ...others].map((x) => x.name));
  if (!taken.has(child.plural)) return undefined;
  const base = `${field.name} ${child.plural.toLowerCase()}`;
  let name = base;
  for (let n = 2; taken.has(name); n++) name = `${base} ${n}`;
  return name;
}
