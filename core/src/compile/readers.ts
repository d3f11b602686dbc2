/** Who reads the records of a type along a route: what a change of such a record has to be told to. */
import { linkedType } from '../language/field-types/index.ts';
import type { RelatedRead } from '../language/expression/checked.ts';
import type { RecordType } from '../document/document.ts';
import type { Program, Reader, TypeProgram } from './compiled.ts';
import { LazyMap } from './lazy-map.ts';

/** Only types that links lead to and from can read each other: no other is compiled for it. */
export function readersOf(
  recordTypes: readonly RecordType[],
  types: ReadonlyMap<string, TypeProgram>,
): Program['readers'] {
  return new LazyMap(linkedGroups(recordTypes), (group, recordType) =>
    group.flatMap((owner) => readsOf(recordType, owner, types.get(owner)!)),
  );
}

function readsOf(recordType: string, owner: string, { rules }: TypeProgram): readonly Reader[] {
  const reads: RelatedRead[] = [];
  for (const rule of rules)
    for (const read of rule.compiles ? rule.related : []) {
      const { to } = read.route[read.route.length - 1]!;
      if (to === recordType && to === read.recordType) reads.push(read);
    }
  return reads.length > 0 ? [{ owner, reads }] : [];
}

/** Keys of the record types that links lead to from one, however many and in whichever direction, itself included. */
export const linkedTypes = (recordTypes: readonly RecordType[], key: string): readonly string[] =>
  linkedGroups(recordTypes).get(key) ?? [];

/** For each type the types that links lead to from it, however many and in whichever direction, itself included. */
function linkedGroups(recordTypes: readonly RecordType[]): ReadonlyMap<string, readonly string[]> {
  const neighbours = new Map(recordTypes.map((t) => [t.key, new Set<string>()]));
  for (const { key, fields } of recordTypes)
    for (const field of fields) {
      const to = linkedType(field);
      if (to === undefined || !neighbours.has(to)) continue;
      neighbours.get(key)!.add(to);
      neighbours.get(to)!.add(key);
    }
  const groups = new Map<string, readonly string[]>();
  for (const { key } of recordTypes) {
    if (groups.has(key)) continue;
    // A set is gone through in the order of adding: what is added meanwhile included.
    const reached = new Set([key]);
    for (const at of reached) for (const next of neighbours.get(at)!) reached.add(next);
    const group = recordTypes.map((t) => t.key).filter((k) => reached.has(k));
    for (const member of group) groups.set(member, group);
  }
  return groups;
}
