/**
 * A dry run on live records: what a draft makes of each against a release or what is stored, by the code of a save, in
 * heaps that are jobs of their own. Nothing is written but what was found.
 */
import type { Program } from '@rigid-rule/core/compile';
import type { Rulebook } from '@rigid-rule/core/document';
import {
  Comparison,
  ImpactTally,
  sumOfFigures,
  type Baseline,
  type ImpactWay,
  type SettledByBoth,
} from '@rigid-rule/core/rule-tests';
import {
  findLiveRun,
  insertLiveRun,
  keepLiveRun,
  queueLiveRun,
  rulebookOfLiveRun,
  type FoundBehind,
  type LiveRun,
} from '../db/live-dry-runs.ts';
import { insertAudit } from '../db/audit.ts';
import { db } from '../db/pool.ts';
import { recordsInOrder } from '../db/record-lists.ts';
import type { StoredRecord } from '../db/records.ts';
import { serializable } from '../db/transaction.ts';
import { settleUnder } from '../entry-points/settling.ts';
import { nowIn } from '../../now.ts';
import { DatabaseSource } from '../related.ts';
import { compiled, releaseProgram } from '../rulebook.ts';
import { fingerprint } from '../snapshot.ts';

/** Records of one job. */
const heap = 200;
/** Records looked at beside each other: what several ask at the same time is one query. */
const together = 25;

export interface LiveQuestion {
  /** What is tried. */
  readonly rulebook: Rulebook;
  /** Key of the rule that is switched off in it; empty for none. */
  readonly without: string;
  /** Number of a release; null: what is stored. */
  readonly against: number | null;
  readonly way: ImpactWay;
}

export async function beginLiveRun({ rulebook, ...question }: LiveQuestion, userId: number): Promise<number> {
  const { without } = question;
  const tried: Rulebook =
    without === ''
      ? rulebook
      : { ...rulebook, rules: rulebook.rules.map((r) => (r.key === without ? { ...r, on: false } : r)) };
  const sha256 = await fingerprint(tried);
  const [before, after] = await Promise.all([baselineOf(question.against), compiled(sha256, () => tried)]);
  const asked = { ...question, rulebook: tried, sha256, now: nowIn(tried.zone) };
  return serializable(async (client) => {
    const id = await insertLiveRun(asked, typesOf(before, after), userId, client);
    await insertAudit('dry run on live records', userId, { run: id, ...question }, client);
    return id;
  });
}

/** @throws for a release that is not there: another comparison than the one that was asked for would be a lie. */
async function baselineOf(against: number | null): Promise<Baseline> {
  if (against === null) return 'stored';
  const program = await releaseProgram(against);
  if (!program) throw new Error(`There is no release ${against}.`);
  return program;
}

/** Record types that either has rules for, in the order of what is tried. */
function typesOf(before: Baseline, after: Program): readonly string[] {
  const ruled = (program: Baseline, type: string): boolean =>
    program !== 'stored' && (program.types.get(type)?.rules.length ?? 0) > 0;
  return [...after.types.keys()].filter((t) => ruled(before, t) || ruled(after, t));
}

export async function tryHeap(id: number): Promise<void> {
  const run = await findLiveRun(id);
  if (!run || (run.state !== 'waiting' && run.state !== 'running')) return;
  const after = await compiled(run.sha256, () => rulebookOfLiveRun(id));
  const before = await baselineOf(run.against);
  const types = typesOf(before, after).filter((t) => run.counts[t] !== undefined);
  const type = run.lastType === '' ? types[0] : run.lastType;
  const empty = { type: '', looked: 0, figures: undefined, behind: [], next: undefined };
  if (type === undefined) return void (await serializable((client) => keepLiveRun(run, empty, client)));
  const records = await recordsInOrder(type, run.lastType === '' ? 0 : run.lastId, heap);
  const found = await tryRecords(run, type, records, before, after);
  const nextType = types[types.indexOf(type) + 1];
  const next =
    records.length === heap
      ? { type, id: records.at(-1)!.id }
      : nextType === undefined
        ? undefined
        : { type: nextType, id: 0 };
  const kept = await serializable((client) =>
    keepLiveRun(run, { type, looked: records.length, ...found, next }, client),
  );
  if (kept && next) await queueLiveRun(id);
}

async function tryRecords(
  run: LiveRun,
  type: string,
  records: readonly StoredRecord[],
  before: Baseline,
  after: Program,
): Promise<Pick<Parameters<typeof keepLiveRun>[1], 'figures' | 'behind'>> {
  const { recordType } = after.types.get(type)!;
  const tally = new ImpactTally(recordType, before, after, run.way);
  const comparison = new Comparison(type, before, after, run.way, run.now);
  const settled: SettledByBoth[] = [];
  for (let at = 0; at < records.length; at += together)
    settled.push(...(await Promise.all(records.slice(at, at + together).map((r) => settleByBoth(comparison, r)))));
  const tried = records.map((r) => ({ id: String(r.id), data: r.data, held: r.held }));
  tried.forEach((r, i) => {
    tally.add(r, ...settled[i]!);
  });
  const behind = [...tally.behind()].map((b): FoundBehind => {
    const { id } = records[b.at]!;
    if ('message' in b) return { field: null, from: '', to: b.message, id, before: null, after: null, rule: null };
    const moved = tally.moved(tried[b.at]!, b.field, ...settled[b.at]!);
    const { field, from, to } = b;
    return { field, from, to, id, before: moved.before, after: moved.after, rule: moved.by ?? null };
  });
  const former = run.figures[type];
  return { figures: sumOfFigures([...(former ? [former] : []), tally.figures()]), behind };
}

/** What the rules of one ask of other records the other's need not ask again: its record is the same. */
async function settleByBoth(comparison: Comparison, record: StoredRecord): Promise<SettledByBoth> {
  const { data, held, changedAt } = record;
  const worlds = new Map<string, DatabaseSource>();
  const settlements = comparison.settlements(({ rulebook }) => ({
    id: String(record.id),
    data,
    held,
    writtenAt: nowIn(rulebook.zone, changedAt),
  }));
  let step = settlements.next();
  while (!step.done) {
    const { program, write, options } = step.value;
    const { zone } = program.rulebook;
    const world = worlds.get(zone) ?? new DatabaseSource(db(), zone);
    worlds.set(zone, world);
    step = settlements.next(await settleUnder(world, program, write, options));
  }
  return step.value;
}
