/** Records that read one that was written, along one link or several: found on the way back. */
import type { RecordData } from '../document/document.ts';
import type { Hop } from '../language/types/types.ts';
import type { RecordQuery, RecordSource } from '../records/record-source.ts';

/** Records that a job has to settle after the transaction: those that a path back along `route` finds. */
export interface Dependants {
  /** Record type of the dependants, and the steps from one of them to the record that changed. */
  readonly recordType: string;
  readonly route: readonly Hop[];
  readonly changed: { readonly recordType: string; readonly id: string; readonly before: RecordData | null };
  /** `pathKey` of each related field that changed. */
  readonly paths: readonly string[];
}

/** Ids of the records of a dependants' job: the route walked back from the record that changed. */
export function findDependants(
  { recordType, route, changed }: Dependants,
  after: RecordData,
  world: RecordSource,
): { readonly ids: readonly string[] } | { readonly asks: readonly RecordQuery[] } {
  let ids: readonly string[] = [changed.id];
  let type = changed.recordType;
  const asks: RecordQuery[] = [];
  for (let at = route.length - 1; at >= 0; at--) {
    const hop = route[at]!;
    const owner = at === 0 ? recordType : route[at - 1]!.to;
    const next = new Set<string>();
    for (const id of ids) {
      if (hop.by === 'lookup') {
        const ask: RecordQuery = { kind: 'children', recordType: owner, field: hop.field, id };
        const found = world.answer(ask);
        if (found) for (const r of found) next.add(r.id);
        else asks.push(ask);
        continue;
      }
      for (const parent of parentsOf(id, type, hop, changed, after, world, asks)) next.add(parent);
    }
    if (asks.length > 0) return { asks };
    ids = [...next];
    type = owner;
  }
  return { ids };
}

function parentsOf(
  id: string,
  type: string,
  hop: Hop,
  changed: Dependants['changed'],
  after: RecordData,
  world: RecordSource,
  asks: RecordQuery[],
): readonly string[] {
  const own = id === changed.id && type === changed.recordType;
  if (own) return parentIds([changed.before, after], hop);
  const ask: RecordQuery = { kind: 'record', recordType: type, id };
  const found = world.answer(ask);
  if (!found) asks.push(ask);
  return parentIds(
    (found ?? []).map((r) => r.data),
    hop,
  );
}

/** What the lookup of a step to children names, in each state of the child. */
export function parentIds(states: readonly (RecordData | null)[], hop: Hop): readonly string[] {
  const parents = states.map((s) => s?.[hop.field]);
  return parents.filter((p): p is string => typeof p === 'string' && p !== '');
}
