/**
 * Step 6: rules that depend on each other repeat, woken by what the last round changed, until nothing changes. They go on
 * while something new appears; a state that was there before will come again without end.
 */
import type { Stored } from '../document/document.ts';
import { writtenOrBlank } from '../language/wording/written.ts';
import type { CompiledRule } from '../compile/compiled.ts';
import type { Run } from './run.ts';

/** Rounds after which rules that keep finding new values are said not to settle: wide, since each rule may wait for all others. */
const mostRounds = (ring: readonly CompiledRule[]): number => Math.max(200, 4 * ring.length);

/** What a round begins with. */
interface Round {
  readonly state: readonly Stored[];
  /** Rules that take part and are woken. */
  readonly awake: readonly CompiledRule[];
}

/** True: they do not settle; a message names the rules that wake each other again and the values that swing. */
export function runCircle(
  run: Run,
  ring: readonly CompiledRule[],
  consider: (run: Run, r: CompiledRule, again: boolean) => void,
): boolean {
  // What is told hangs on no rule that cannot act: one that is off, is broken, or is for other moments.
  const acting = ring.filter((r) => run.takesPart(r));
  const slots = [...new Set(acting.flatMap((r) => r.writes))];
  const seen = new Map<string, number>();
  const rounds: Round[] = [];
  for (let round = 1; ; round++) {
    const woken = ring.filter((r) => run.woken.has(r.runIndex));
    if (woken.length === 0) return false;
    const awake = woken.filter((r) => acting.includes(r));
    const state = slots.map((s) => run.after[s]!);
    const key = JSON.stringify([state, awake.map((r) => r.runIndex)]);
    const before = seen.get(key);
    if (before !== undefined || round > mostRounds(acting)) {
      run.addMessage({
        severity: 'stop',
        text: unsettledText(run, acting, slots, [...rounds.slice(before ?? -2), { state, awake }]),
      });
      return true;
    }
    seen.set(key, rounds.length);
    rounds.push({ state, awake });
    for (const r of woken) {
      run.forget(r);
      run.woken.remove(r.runIndex);
      consider(run, r, round > 1);
    }
  }
}

const mostValues = 4;

/** Rules that were considered in these rounds, and each field whose value changes between them, with the values that it takes. */
function unsettledText(
  run: Run,
  acting: readonly CompiledRule[],
  slots: readonly number[],
  rounds: readonly Round[],
): string {
  const swings = slots.flatMap((slot, i) => {
    const { field } = run.type.slots[slot]!;
    const values = [...new Set(rounds.map(({ state }) => writtenOrBlank(field, state[i]!, run.writing)))];
    if (values.length < 2) return [];
    const shown = values.slice(0, mostValues).join(', ');
    return [`${field.name} is ${shown}${values.length > mostValues ? ' and so on' : ' in turn'}`];
  });
  const names = acting
    .filter((r) => rounds.some(({ awake }) => awake.includes(r)))
    .map((r) => r.rule.name)
    .join(', ');
  const because = swings.length > 0 ? ` ${swings.join('; ')}.` : '';
  return `These rules depend on each other and do not settle: ${names}.${because}`;
}
