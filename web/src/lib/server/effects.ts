/** What a draft would make of the sample records that the live rules do not: the short form of a dry run. */
import {
  fieldTypeOf,
  RecordsWorld,
  sameStored,
  settle,
  type Program,
  type RecordType,
  type World,
  type Settlement,
} from '@rigid-rule/core';
import { loadSamples, type Sample } from './db/samples.ts';

export interface Move {
  readonly from: string;
  readonly to: string;
  readonly records: number;
}

export interface FieldEffect {
  readonly field: string;
  readonly records: number;
  readonly moves: readonly Move[];
}

export interface TypeEffect {
  readonly recordType: string;
  readonly plural: string;
  readonly tried: number;
  readonly changed: number;
  /** Had a value under the live rules and has none under the draft. */
  readonly newlyBlank: number;
  readonly newlyStopped: number;
  readonly fields: readonly FieldEffect[];
}

export async function effectsOnSamples(live: Program, draft: Program): Promise<TypeEffect[]> {
  const types = [...draft.types.values()].filter(
    (t) => t.rules.length > 0 || live.types.get(t.recordType.key)?.rules.length,
  );
  const samples = new Map<string, readonly Sample[]>();
  for (const key of draft.types.keys()) samples.set(key, await loadSamples(key));
  // Other records are those of the sample sets.
  const world = new RecordsWorld(
    [...samples].flatMap(([recordType, list]) => list.map(({ id, data }) => ({ recordType, id: String(id), data }))),
  );
  return types.map(({ recordType }) => compare(recordType, samples.get(recordType.key) ?? [], live, draft, world));
}

/** All standing rules named, as a backfill would. */
function settleStanding(program: Program, type: string, { id, data }: Sample, world: World): Settlement | undefined {
  const known = program.types.get(type);
  if (!known) return undefined;
  const woken = known.rules.filter((r) => r.standing).map((r) => r.rule.key);
  const write = {
    recordType: type,
    id: String(id),
    before: { data, held: [] },
    sent: {},
    typed: [],
    moment: 'updating',
    entryPoint: 'backfill',
    now: '1970-01-01T00:00:00Z',
    woken,
  } as const;
  return settle(program, write, world, { trace: false });
}

function compare(
  type: RecordType,
  samples: readonly Sample[],
  live: Program,
  draft: Program,
  world: World,
): TypeEffect {
  const moves = new Map<string, Map<string, Move>>();
  let [changed, newlyBlank, newlyStopped] = [0, 0, 0];
  for (const sample of samples) {
    const { data } = sample;
    const before = settleStanding(live, type.key, sample, world);
    const after = settleStanding(draft, type.key, sample, world);
    const was = before?.data ?? data;
    const is = after?.data ?? data;
    if (after?.verdict !== 'saved' && before?.verdict === 'saved') newlyStopped++;
    let moved = false;
    for (const field of type.fields) {
      const [a, b] = [was[field.key] ?? null, is[field.key] ?? null];
      if (sameStored(a, b)) continue;
      moved = true;
      if (b === null) newlyBlank++;
      const { format } = fieldTypeOf(field);
      count(moves, field.name, format(a, field) || 'blank', format(b, field) || 'blank');
    }
    if (moved) changed++;
  }
  const fields = [...moves].map(([field, list]) => {
    const sorted = [...list.values()].sort((a, b) => b.records - a.records);
    return { field, records: sorted.reduce((sum, m) => sum + m.records, 0), moves: sorted };
  });
  return {
    recordType: type.key,
    plural: type.plural,
    tried: samples.length,
    changed,
    newlyBlank,
    newlyStopped,
    fields,
  };
}

function count(moves: Map<string, Map<string, Move>>, field: string, from: string, to: string): void {
  const list = moves.get(field) ?? new Map<string, Move>();
  moves.set(field, list);
  const key = `${from}\0${to}`;
  list.set(key, { from, to, records: (list.get(key)?.records ?? 0) + 1 });
}
