/**
 * Looks at stored records in heaps: what would the live standing rules give, and what is stored? Nothing is written but
 * what was found. A heap is a job of its own, so that others have their turn in between.
 */
import type { Program } from '@rigid-rule/core/compile';
import { sameJson } from '@rigid-rule/core/document';
import { findDriftRun, keepDrift, queueDrift, type DriftState, type DriftValue } from '../db/drift.ts';
import { db } from '../db/pool.ts';
import { recordsInOrder } from '../db/record-lists.ts';
import { serializable } from '../db/transaction.ts';
import { settleAside, type SettledAside, type WriteRequest } from '../entry-points/settling.ts';
import { releaseProgram } from '../rulebook.ts';

/** Records of one job. */
const heap = 200;
/** Records looked at beside each other. */
const together = 25;

/** Record types that have rules which can be applied to what is stored, in the order of the rulebook. */
export const driftingTypes = (program: Program): readonly string[] =>
  [...program.types.values()].filter((t) => t.rules.some((r) => r.standing && r.rule.on)).map((t) => t.recordType.key);

export async function lookForDrift(id: number): Promise<void> {
  const run = await findDriftRun(id);
  if (!run || (run.state !== 'waiting' && run.state !== 'running')) return;
  const program = await releaseProgram(run.release);
  if (!program) return;
  const types = driftingTypes(program);
  const type = run.lastType === '' ? types[0] : run.lastType;
  if (type === undefined) return void (await keep(id, [], { type: '', id: 0, looked: 0, state: 'done' }));
  const records = await recordsInOrder(type, run.lastType === '' ? 0 : run.lastId, heap);
  const found: DriftValue[] = [];
  // What several ask at the same time is one query.
  for (let at = 0; at < records.length; at += together)
    found.push(
      ...(await Promise.all(records.slice(at, at + together).map((r) => driftOf(type, r.id, program)))).flat(),
    );
  const next = records.length === heap ? type : types[types.indexOf(type) + 1];
  const state: DriftState = next === undefined ? 'done' : 'running';
  const lastId = next === type ? (records.at(-1)?.id ?? 0) : 0;
  const place = { type: next ?? type, id: lastId, looked: records.length, state };
  if ((await keep(id, found, place)) && state === 'running') await queueDrift(id);
}

const keep = (id: number, found: readonly DriftValue[], place: Parameters<typeof keepDrift>[2]): Promise<boolean> =>
  serializable((client) => keepDrift(id, found, place, client));

async function driftOf(type: string, id: number, program: Program): Promise<DriftValue[]> {
  const own = program.types.get(type)!;
  const woken = own.rules.filter((r) => r.standing && r.rule.on).map((r) => r.rule.key);
  const request: WriteRequest & { readonly id: number } = {
    type,
    id,
    sent: {},
    typed: [],
    entryPoint: 'backfill',
    woken,
    by: null,
  };
  const settled = await settleAside(db(), request);
  if (!settled) return [];
  const differences = (of: SettledAside, held: boolean): DriftValue[] =>
    of.settlement.verdict !== 'saved'
      ? []
      : own.slots.flatMap(({ field: { key } }): DriftValue[] => {
          const [before, after] = [of.stored.data[key] ?? null, of.settlement.data[key] ?? null];
          if (of.stored.held.includes(key) !== held || sameJson(before, after)) return [];
          const author = of.settlement.changes.find((c) => c.field === key)?.author;
          const rule = author?.by === 'rule' ? author.rule : null;
          return [{ type, id, field: key, stored: before, settled: after, rule, held }];
        });
  const { held } = settled.stored;
  // What a person set stays; what the rules would give in its place is told apart.
  const handed = held.length > 0 ? await settleAside(db(), { ...request, handBack: held }) : undefined;
  return [...differences(settled, false), ...(handed ? differences(handed, true) : [])];
}
