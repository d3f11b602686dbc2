/** What each rule did in one write, with what it read and why it did or did not act. */
import { Unanswered } from '../records/related-reader.ts';
import type { CompiledRule, TypeProgram } from '../compile/compiled.ts';
import type { RunEnvironment } from './run-environment.ts';
import type { Stored } from '../document/document.ts';
import type { Write } from '../records/write.ts';
import type { TraceEntry, TraceOutcome, TraceVerdict } from '../compile/trace-entry.ts';
import type { Value } from '../values/value.ts';
import type { SlotIndex } from '../document/slots.ts';

const nothing: readonly never[] = [];
const truth = (v: Value): boolean | null => (typeof v === 'boolean' ? v : null);

export class Trace {
  readonly entries: (TraceEntry | undefined)[];
  /** What woke the rule that acts now and the parts of its condition, before it may change what they read. */
  weighed: { readonly rule: CompiledRule; readonly known: Pick<TraceEntry, 'parts' | 'wokenBy'> } | undefined;

  constructor(rules: number) {
    this.entries = new Array<TraceEntry | undefined>(rules).fill(undefined);
  }
}

/** What a trace tells of. */
export interface Traced {
  readonly type: TypeProgram;
  readonly write: Write;
  readonly env: RunEnvironment;
  readonly before: readonly Stored[];
  readonly after: readonly Stored[];
  /** Absent where nobody asked for one. */
  readonly trace: Trace | undefined;
  changed(slot: SlotIndex): boolean;
}

/** Nothing is known yet of the rule that is considered now. */
export function clearLog(run: Traced): void {
  if (run.trace) run.trace.weighed = undefined;
  const { asked } = run.env;
  if (asked) asked.log.length = 0;
}

/** What a rule reads: its fields as they stand, and what it asked of other records. */
export function readBy(run: Traced, r: CompiledRule): TraceEntry['read'] {
  if (!run.trace) return nothing;
  const { slots } = run.type;
  const log = run.env.asked?.log ?? nothing;
  const seen = new Set<string>();
  const related = log.filter(({ name, value }) => {
    const key = `${name}\0${String(value)}`;
    return !seen.has(key) && seen.add(key);
  });
  const read: TraceEntry['read'][number][] = [];
  for (const s of r.reads.present) read.push({ name: slots[s]!.field.name, value: run.after[s]! });
  for (const s of r.reads.previous) read.push({ name: `previous.${slots[s]!.field.name}`, value: run.before[s]! });
  return related.length === 0 ? read : [...read, ...related];
}

export function note(
  run: Traced,
  r: CompiledRule,
  verdict: TraceVerdict,
  outcomes: readonly TraceOutcome[] = nothing,
  read?: TraceEntry['read'],
  message?: string,
): void {
  if (!run.trace) return;
  const considered = verdict === 'condition false' || verdict === 'condition unknown' || verdict === 'already held';
  run.trace.entries[r.runIndex] = {
    rule: r.rule.key,
    verdict,
    read: read ?? (considered ? readBy(run, r) : nothing),
    ...knownOf(run, r, verdict),
    outcomes,
    ...(message === undefined ? {} : { message }),
  };
}

function wokenBy(run: Traced, r: CompiledRule): readonly string[] {
  const { slots } = run.type;
  const names: string[] = [];
  for (const s of r.wakes) if (run.changed(s)) names.push(slots[s]!.field.name);
  return names;
}

/** Keeps what can be known of a rule before it acts. */
export function weigh(run: Traced, r: CompiledRule): void {
  if (!run.trace) return;
  run.trace.weighed = undefined;
  run.trace.weighed = { rule: r, known: knownOf(run, r, 'ran') };
}

function knownOf(run: Traced, r: CompiledRule, verdict: TraceVerdict): Pick<TraceEntry, 'parts' | 'wokenBy'> {
  const weighed = run.trace?.weighed;
  if (weighed?.rule === r) return weighed.known;
  if (verdict === 'asleep') return { wokenBy: r.asleep.wokenBy };
  return { wokenBy: wokenBy(run, r), ...partsOf(run, r, verdict) };
}

const unweighed: ReadonlySet<TraceVerdict> = new Set(['asleep', 'waiting', 'other moment', 'other entry point', 'off']);

function partsOf(run: Traced, r: CompiledRule, verdict: TraceVerdict): Pick<TraceEntry, 'parts'> {
  if (!r.condition || unweighed.has(verdict)) return {};
  const parts = r.conditionParts();
  if (parts.length === 0) return {};
  try {
    return { parts: parts.map(({ text, evaluate }) => ({ text, value: truth(evaluate(run.env)) })) };
  } catch (e) {
    if (e instanceof Unanswered) return {};
    throw e;
  }
}

/** An entry for every rule, in order: those that were not considered say why. */
export function traceOf(run: Traced): readonly TraceEntry[] {
  const { trace } = run;
  if (!trace) return nothing;
  for (const r of run.type.rules) if (!trace.entries[r.runIndex]) noteIdle(run, r);
  return trace.entries as readonly TraceEntry[];
}

export const noted = (run: Traced, r: CompiledRule): TraceEntry | undefined => run.trace?.entries[r.runIndex];

/** Why a rule was not considered. */
export function noteIdle(run: Traced, r: CompiledRule): void {
  if (!run.trace) return;
  const { rule } = r;
  if (!rule.on) note(run, r, 'off');
  else if (!r.compiles) note(run, r, 'broken');
  else if (!rule.moments.includes(run.write.moment)) note(run, r, 'other moment');
  else if (!rule.entryPoints.includes(run.write.entryPoint)) note(run, r, 'other entry point');
  else run.trace.entries[r.runIndex] = r.asleep;
}
