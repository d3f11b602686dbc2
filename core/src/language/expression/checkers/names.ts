/** Names and paths: what they stand for, and which part of the rulebook they name. */
import type { TextRange } from '../../../diagnostics/catalog.ts';
import { nearestName } from '../../../diagnostics/nearest.ts';
import { findFunction } from '../../functions/index.ts';
import { memberType } from '../../functions/members.ts';
import { type Hop, type RecordShape, type Type, anyType, functionType, listOf, typeName } from '../../types/types.ts';
import type { Expression, Name, Path } from '../ast.ts';
import { type FieldBinding, originName, previousName, selfName, userName } from '../scope.ts';
import { withReservedWords } from '../likely.ts';
import type { Checker, Checking, Found } from './checking.ts';

type RecordType = Extract<Type, { kind: 'record' }>;
/** The part of the rulebook that a name names, where it names one. */
type Naming = Pick<Found, 'named'>;

/** A name that stands alone: the nearest variable or member, then a field, then a function. */
export const plainName: Checker<Name> = (e, checking) => {
  const found = lookUp(checking, e.name);
  checking.meanings.set(e, found?.meaning ?? { kind: 'unknown' });
  if (!found) return fieldRead(checking, e.name, e.range, undefined, false);
  if (found.named) checking.named.set(e, found.named);
  if (found.binding) checking.reads.push({ field: found.binding, previous: false, range: e.range });
  checking.uses(found, e.range);
  return found.type;
};

/** The type of a field, which is read; what is none is told, with the name that may have been meant. */
function fieldRead(
  checking: Checking,
  name: string,
  range: TextRange,
  binding: FieldBinding | undefined,
  previous: boolean,
): Type {
  if (!binding) {
    const known = [...checking.scope.fields.keys(), ...checking.scope.tables.keys()];
    const nearest = checking.scope.former?.get(name) ?? withReservedWords(name) ?? nearestName(name, known);
    return checking.report('name.unknown', range, nearest ? { name, nearest } : { name });
  }
  checking.reads.push({ field: binding, previous, range });
  return binding.type;
}

/** A member of what stands before the dot. */
export const path: Checker<Path> = (e, checking) => {
  const { object } = e;
  if (object.kind === 'name' && object.name === previousName && !lookUp(checking, previousName))
    return fieldOfRecord(e, checking, true);
  if (object.kind === 'path' && startsAtPrevious(object) && !lookUp(checking, previousName))
    return checking.report('name.previous-path', e.nameRange);
  if (object.kind === 'name' && object.name === selfName && lookUp(checking, selfName)?.meaning.kind === 'self')
    return memberOfSelf(e, checking);
  return memberOfValue(e, checking);
};

/** A field of the record itself, as it is or as it was before the write. */
function fieldOfRecord(e: Path, checking: Checking, previous: boolean): Type {
  const binding = checking.scope.fields.get(e.name);
  checking.meanings.set(e, binding ? { kind: 'field', slot: binding.slot, previous } : { kind: 'unknown' });
  checking.note(e, fieldNamed(checking, binding));
  return fieldRead(checking, e.name, e.nameRange, binding, previous);
}

function memberOfSelf(e: Path, checking: Checking): Type {
  const own = standing(checking, e.name);
  if (checking.scope.fields.has(e.name) || own?.meaning.kind !== 'children') return fieldOfRecord(e, checking, false);
  checking.meanings.set(e, own.meaning);
  checking.note(e, own);
  checking.uses(own, e.range);
  return own.type;
}

function memberOfValue(e: Path, checking: Checking): Type {
  const actual = checking.infer(e.object);
  const record = actual.kind === 'list' ? actual.item : actual;
  if (record.kind === 'record') return recordMember(checking, e, actual, record);
  if (record.kind === 'any') checking.named.set(e, { kind: 'member', name: e.name });
  checking.note(e, columnNamed(checking, record, e.name));
  if (actual.kind === 'context' && actual.members) {
    const member = actual.members.get(e.name);
    if (member) return member;
    const nearest = nearestName(e.name, actual.members.keys());
    return checking.report('name.unknown', e.nameRange, nearest ? { name: e.name, nearest } : { name: e.name });
  }
  const known = memberType(actual, e.name);
  return known ?? checking.report('type.member', e.nameRange, { name: e.name, found: typeName(actual) });
}

/** A field or child list of a record, or of each record of a list. */
function recordMember(checking: Checking, e: Path, actual: Type, record: RecordType): Type {
  const member = record.of.member(e.name);
  if (!member) {
    const nearest = nearestName(e.name, record.of.memberNames());
    return checking.report('name.unknown', e.nameRange, nearest ? { name: e.name, nearest } : { name: e.name });
  }
  checking.note(e, memberNamed(record.of, e.name));
  checking.readRelated(actual, member.field ?? '', `${pathText(e.object)}.${e.name}`, e.nameRange);
  const type = record.route ? continued(member.type, record.route) : unrouted(member.type);
  if (member.hop) checking.readRelated(type, '', `${pathText(e.object)}.${e.name}`, e.nameRange);
  return actual.kind === 'list' ? listOf(type) : type;
}

/** What a name stands for: the nearest variable or member, then a field, then what every formula knows. */
export function lookUp(checking: Checking, name: string, from = checking.frames.length - 1): Found | undefined {
  for (let stackIndex = from; stackIndex >= 0; stackIndex--) {
    const frame = checking.frames[stackIndex]!;
    if ('name' in frame) {
      if (frame.name === name) return { meaning: { kind: 'variable', stackIndex }, type: frame.type };
      continue;
    }
    const { item } = frame;
    // The frame before this one holds the item itself.
    const member = item.kind === 'context' ? item.members?.get(name) : undefined;
    if (member)
      return {
        meaning: { kind: 'member', stackIndex: stackIndex - 1, otherwise: { kind: 'unknown' } },
        type: member,
        ...columnNamed(checking, item, name),
      };
    const ofRecord = item.kind === 'record' ? item.of.member(name) : undefined;
    if (ofRecord && item.kind === 'record') {
      const type = item.route ? continued(ofRecord.type, item.route) : unrouted(ofRecord.type);
      const meaning = { kind: 'member', stackIndex: stackIndex - 1, otherwise: { kind: 'unknown' } } as const;
      return { meaning, type, related: { of: item, field: ofRecord.field ?? '' }, ...memberNamed(item.of, name) };
    }
    const open = item.kind === 'any' || (item.kind === 'context' && !item.members);
    if (!open) continue;
    const outside = lookUp(checking, name, stackIndex - 1);
    const otherwise = outside?.meaning ?? { kind: 'unknown' };
    const named = { kind: 'member', name } as const;
    return { ...outside, meaning: { kind: 'member', stackIndex: stackIndex - 1, otherwise }, type: anyType, named };
  }
  const binding = checking.scope.fields.get(name);
  if (binding)
    return {
      meaning: { kind: 'field', slot: binding.slot, previous: false },
      type: binding.type,
      binding,
      ...fieldNamed(checking, binding),
    };
  return standing(checking, name) ?? functionNamed(name);
}

/** Names that mean something in every formula of a record type, unless a field has them. */
function standing(checking: Checking, name: string): Found | undefined {
  const { tables, self, origin, user } = checking.scope;
  const table = tables.get(name);
  if (table)
    return {
      meaning: { kind: 'table', key: table.key },
      type: table.type,
      named: { kind: 'table', key: table.key },
    };
  const children = self?.member(name);
  if (children?.hop) return { meaning: { kind: 'children', name }, type: children.type, ...memberNamed(self!, name) };
  if (name === selfName && self) return { meaning: { kind: 'self' }, type: { kind: 'record', of: self } };
  if (name === originName && origin) return { meaning: { kind: 'origin' }, type: origin };
  return name === userName && user ? { meaning: { kind: 'user' }, type: user } : undefined;
}

function functionNamed(name: string): Found | undefined {
  return findFunction(name) ? { meaning: { kind: 'function', name }, type: functionType } : undefined;
}

function fieldNamed({ scope: { self } }: Checking, binding: FieldBinding | undefined): Naming {
  const key = binding?.field.key;
  return self && key !== undefined ? { named: { kind: 'field', recordType: self.key, key } } : {};
}

function columnNamed({ scope }: Checking, row: Type, name: string): Naming {
  if (row.kind !== 'context' || row.table === undefined) return {};
  const table = [...scope.tables.values()].find((t) => t.key === row.table);
  const column = table && [...table.keys, ...table.outputs].find((c) => c.name === name);
  return column ? { named: { kind: 'column', table: row.table, key: column.key } } : {};
}

function memberNamed(of: RecordShape, name: string): Naming {
  const member = of.member(name);
  if (!member) return {};
  if (of.key === '') return { named: { kind: 'origin', name } };
  const { hop, field } = member;
  if (hop) return { named: { kind: 'children', recordType: hop.to, field: hop.field } };
  return field === undefined ? {} : { named: { kind: 'field', recordType: of.key, key: field } };
}

/** A path as it is written, where it is one. */
function pathText(e: Expression): string {
  if (e.kind === 'name') return e.name;
  if (e.kind === 'path') return `${pathText(e.object)}.${e.name}`;
  return e.kind === 'filter' ? pathText(e.object) : '…';
}

/** The type of a member with the route that leads to it. */
function continued(type: Type, before: readonly Hop[]): Type {
  if (type.kind === 'list') return listOf(continued(type.item, before));
  return type.kind === 'record' && type.route ? { ...type, route: [...before, ...type.route] } : type;
}

function unrouted(type: Type): Type {
  if (type.kind === 'list') return listOf(unrouted(type.item));
  if (type.kind !== 'record') return type;
  const { route: _, ...rest } = type;
  return rest;
}

function startsAtPrevious(e: Expression): boolean {
  if (e.kind === 'path') return startsAtPrevious(e.object);
  return e.kind === 'name' && e.name === previousName;
}
