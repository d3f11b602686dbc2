/** What of a trace is shown at once, and what is folded away: of very many rules nobody reads those that did nothing. */
import type { TraceEntry } from '@rigid-rule/core/compile';

const acts: ReadonlySet<string> = new Set(['ran', 'stops', 'failed', 'broken', 'waiting']);
/** More rules that ran without effect than one reads through are folded away. */
const mostWithout = 12;

export interface TraceParts {
  /** The rule on the sheet, then those that did something, each in the order in which they ran. */
  readonly open: readonly TraceEntry[];
  readonly withoutEffect: readonly TraceEntry[];
  readonly idle: readonly TraceEntry[];
}

/** `current`: key of the rule on the sheet. */
export function tracePartsOf(trace: readonly TraceEntry[], current?: string): TraceParts {
  const others = trace.filter((t) => t.rule !== current);
  const without = others.filter((t) => t.verdict === 'no effect');
  const folded = without.length > mostWithout;
  const isOpen = (t: TraceEntry): boolean => acts.has(t.verdict) || (t.verdict === 'no effect' && !folded);
  return {
    open: [...trace.filter((t) => t.rule === current), ...others.filter(isOpen)],
    withoutEffect: folded ? without : [],
    idle: others.filter((t) => !acts.has(t.verdict) && t.verdict !== 'no effect'),
  };
}
