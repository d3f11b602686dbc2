/** Many writes settled together: what they ask for is read once for all of them. */
import type { Program } from '../compile/compiled.ts';
import { settle } from '../settle/settle.ts';
import type { Settlement, SettleOptions } from '../settle/settlement.ts';
import type { Write } from '../records/write.ts';
import {
  AnsweredSource,
  queryKey,
  mostQueryPasses,
  type RecordQuery,
  type FoundRecord,
} from '../records/record-source.ts';

export type ReadQueries = (asks: readonly RecordQuery[]) => Promise<readonly (readonly FoundRecord[])[]>;

/**
 * Settlements in the order of the writes. Each sees the stored records, not what the others of the batch write; only
 * those that wait are settled again. A write whose questions never end is *failed*.
 */
export async function settleBatch(
  program: Program,
  writes: readonly Write[],
  read: ReadQueries,
  options: SettleOptions = {},
): Promise<Settlement[]> {
  const world = new AnsweredSource();
  const settled: Settlement[] = writes.map((write) => settle(program, write, world, options));
  for (let pass = 1; ; pass++) {
    const waiting = settled.flatMap((s, i) => (s.verdict === 'waiting' ? [i] : []));
    if (waiting.length === 0) return settled;
    if (pass > mostQueryPasses) {
      for (const i of waiting) settled[i] = { ...settled[i]!, verdict: 'failed' };
      return settled;
    }
    const asks = new Map(waiting.flatMap((i) => settled[i]!.asks).map((ask) => [queryKey(ask), ask]));
    const open = [...asks.values()];
    const answers = await read(open);
    open.forEach((ask, i) => {
      world.put(ask, answers[i] ?? []);
    });
    for (const i of waiting) settled[i] = settle(program, writes[i]!, world, options);
  }
}
