/** Step 3: when a rule looks at the record, and when it tells someone. */
import type { CompiledRule } from '../compile/compiled.ts';
import type { Run } from './run.ts';
import { noSlot } from '../document/slots.ts';

/** Whether something that wakes the rule changed in this write, or it acts on every one. */
export function isAwake(run: Run, r: CompiledRule): boolean {
  const { write } = run;
  if (r.rule.repeat === 'every' || r.confines.length > 0 || (write.before === null && r.onNewRecord)) return true;
  const { wakes } = r;
  for (let i = 0; i < wakes.length; i++) if (run.changed(wakes[i]!)) return true;
  const { wokenByRelated } = run.type;
  if (write.relatedChanges?.some((path) => wokenByRelated.get(path)?.includes(r.runIndex))) return true;
  return write.handBack?.some((key) => r.writes.includes(run.type.slotOf.get(key) ?? noSlot)) ?? false;
}

/**
 * Whether the condition was true for the stored record as well, among the other records as they stood before the write
 * that caused this one; or the rule has acted on this record in the same transaction already.
 */
export function heldBefore(run: Run, r: CompiledRule): boolean {
  if (run.write.acted?.includes(r.rule.key)) return true;
  return run.write.before !== null && r.condition !== undefined && r.condition(run.environmentBefore()) === true;
}

/** Backfills and requests notify nobody unless asked to. */
export const mayNotify = (run: Run, named: boolean): boolean =>
  run.write.notify ?? (!named && run.write.moment !== 'opening' && run.write.moment !== 'editing');
