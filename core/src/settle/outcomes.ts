/** Steps 4 and 5: what a rule does, effect by effect, and who wins over a value set by hand. */
import { isBlankStored, sameStored } from '../language/field-types/field-type.ts';
import type { Writing } from '../language/types/writing.ts';
import { writtenValue, writtenGiven } from '../language/wording/written.ts';
import type { Effect } from '../compile/rule-kinds/rule-kind.ts';
import type { Field, Stored } from '../document/document.ts';
import { isList, type Value } from '../values/value.ts';
import { isAllowed } from './constraints.ts';
import type { CompiledRule, Slot } from '../compile/compiled.ts';
import { updatedList } from './list-update.ts';
import type { Run } from './run.ts';
import type { TraceOutcome } from '../compile/trace-entry.ts';
import { note, readBy, weigh } from './trace.ts';
import { mayNotify } from './waking.ts';
import { type SlotIndex, noSlot } from '../document/slots.ts';

interface EffectResult {
  readonly wrote: boolean;
  readonly stop?: string;
  readonly outcome?: TraceOutcome;
}

const nothingWritten: EffectResult = { wrote: false };
const written: EffectResult = { wrote: true };

type Applied = Exclude<Effect, { act: 'keep' | 'send' }>;
type Cause = TraceOutcome['cause'];

/** The outcomes in order, each seeing what the ones before it did; what is to be sent out is made of the settled record. */
export function act(run: Run, r: CompiledRule, named: boolean): void {
  const { trace, env } = run;
  const outcomes: TraceOutcome[] | undefined = trace && [];
  const read = trace ? readBy(run, r) : undefined;
  if (trace) weigh(run, r);
  let stop: string | undefined;
  let wrote = false;
  env.variables.length = 0;
  const { steps } = r;
  if (steps)
    for (let i = 0; i < steps.length; i++)
      for (const effect of steps[i]!(env)) {
        if (effect.act === 'keep') {
          env.variables[effect.stackIndex] = effect.value;
          continue;
        }
        const done = effect.act === 'send' ? send(run, r, effect) : apply(run, r, effect);
        wrote ||= done.wrote;
        stop ??= done.stop;
        if (outcomes && done.outcome) outcomes.push(done.outcome);
      }
  if (stop === undefined && r.notices.length > 0 && !r.fieldConstraints && mayNotify(run, named))
    (run.telling ??= new Set()).add(r);
  if (!trace) return;
  const all = (env.asked?.log.length ?? 0) > 0 ? readBy(run, r) : read;
  note(run, r, stop === undefined ? (wrote ? 'ran' : 'no effect') : 'stops', outcomes, all, stop);
}

function apply(run: Run, r: CompiledRule, effect: Applied): EffectResult {
  const slot = effect.target;
  const target = run.type.slots[slot];
  if (!target) return { wrote: false, ...stopWith(run, r, effect.act === 'stop' ? effect.message : '', slot) };
  const from = run.after[slot]!;
  if (effect.act === 'leave') return noWrite(run, target, from, effect, effect.cause);
  if (effect.act === 'stop') {
    const text = effect.message || `${r.rule.name} gives no value for ${target.field.name}.`;
    return { ...noWrite(run, target, from, effect, effect.cause), ...stopWith(run, r, text, slot) };
  }
  if (effect.act === 'fill' && !isToBeFilled(run, slot, target))
    return noWrite(run, target, from, effect, 'filled already');
  const person = personWins(run, r, slot);
  if (person) return noWrite(run, target, from, effect, person);
  if (effect.act === 'confine') return confine(run, r, effect, target);
  let to: Stored;
  if (effect.act === 'set' && effect.stored !== undefined) to = effect.stored;
  else {
    const coerced = coerce(effect.value, target, run.writing);
    if ('problem' in coerced) return misfit(run, r, effect, target, coerced.problem);
    to = coerced.value;
  }
  if (effect.act === 'set' && effect.way) to = updatedList(from, to, effect.way, target);
  return write(run, r, effect, target, to, effect.act === 'set' ? effect.cause : undefined);
}

function write(run: Run, r: CompiledRule, effect: Applied, target: Slot, to: Stored, cause: Cause): EffectResult {
  const slot = effect.target;
  const from = run.after[slot]!;
  run.held[slot] = 0;
  if (sameStored(from, to)) return noWrite(run, target, from, effect, cause ?? 'same value');
  const latest = latestCause(run, r);
  if (latest > 0) run.typedAt[slot] = latest;
  run.assign(slot, to, r.author, r.runIndex);
  return run.trace ? { wrote: true, outcome: traceOutcome(target.field.key, from, to, effect, cause) } : written;
}

/** A value that the field cannot hold stops the write, or warns where the rule says so. */
function misfit(
  run: Run,
  r: CompiledRule,
  effect: Extract<Applied, { act: 'set' | 'fill' }>,
  target: Slot,
  problem: string,
): EffectResult {
  const slot = effect.target;
  const from = run.after[slot]!;
  const text = `${r.rule.name} gives ${shortText(target.field, effect.value, run.writing)}, which ${problem}.`;
  if (effect.act === 'fill' || !effect.lenient)
    return { ...noWrite(run, target, from, effect, undefined), ...stopWith(run, r, text, slot) };
  run.say(r, 'warn', text, slot);
  return noWrite(run, target, from, effect, 'does not fit');
}

/** Blank and not sent; on a new record what a field starts with counts as blank (*no* for yes/no). */
function isToBeFilled(run: Run, slot: SlotIndex, { type }: Slot): boolean {
  if (run.sent[slot]) return false;
  const v = run.after[slot]!;
  return isBlankStored(v) || (run.write.before === null && v === type.starting && !run.setByRule(slot));
}

/** What is not among the options that all limits leave goes, or the only one left takes its target. */
function confine(run: Run, r: CompiledRule, effect: Applied, target: Slot): EffectResult {
  const slot = effect.target;
  const from = run.after[slot]!;
  const { allowed, only } = offerOn(run, slot);
  if (!allowed || isBlankStored(from)) return noWrite(run, target, from, effect, 'blank source');
  if (isAllowed(from, allowed)) return noWrite(run, target, from, effect, 'filled already');
  // A program that sends a value which is not on offer is told so; a form says what it cleared.
  if (run.sent[slot] && run.typedAt[slot] === 0 && run.changed(slot) && !run.setByRule(slot)) {
    const text = notOffered(target.field, from, allowed, run.writing);
    return { ...noWrite(run, target, from, effect, 'no longer allowed'), ...stopWith(run, r, text, slot) };
  }
  const kept = Array.isArray(from) ? (from as readonly string[]).filter((k) => allowed.includes(k)) : [];
  const keys = kept.length === 0 && only && allowed.length === 1 ? allowed : kept;
  const [first = null] = keys;
  const to = Array.isArray(from) && keys.length > 0 ? keys : first;
  return write(run, r, effect, target, to, 'no longer allowed');
}

function notOffered(field: Field, v: Stored, allowed: readonly string[], writing: Writing): string {
  const wrong = Array.isArray(v) ? (v as readonly string[]).filter((k) => !allowed.includes(k)) : v;
  return `${writtenValue(field, wrong, writing)} is not on offer for ${field.name} here.`;
}

/** The options that all limits on a field leave now; undefined where none limits it. `only`: one of them says so. */
function offerOn(
  run: Run,
  slot: SlotIndex,
): { readonly allowed: readonly string[] | undefined; readonly only: boolean } {
  let allowed: readonly string[] | undefined;
  let only = false;
  for (const { rule, limit } of run.type.limitsOn.get(slot) ?? []) {
    if (!run.takesPart(rule)) continue;
    if (rule.condition && rule.condition(run.env) !== true) continue;
    const own = limit.allowed(run.env);
    if (!own) continue;
    allowed = allowed ? allowed.filter((k) => own.includes(k)) : own;
    only ||= limit.otherwise === 'only';
  }
  return { allowed, only };
}

/** Nothing was written, and why. */
function noWrite(run: Run, { field }: Slot, from: Stored, effect: Effect, cause: Cause): EffectResult {
  return run.trace ? { wrote: false, outcome: traceOutcome(field.key, from, from, effect, cause) } : nothingWritten;
}

function stopWith(run: Run, r: CompiledRule, text: string, slot: SlotIndex): { readonly stop: string } {
  const said = text || `${r.rule.name} gives no value.`;
  run.say(r, 'stop', said, slot);
  return { stop: said };
}

function traceOutcome(field: string, from: Stored, to: Stored, effect: Effect, cause: Cause): TraceOutcome {
  return {
    field,
    from,
    to,
    ...(effect.act === 'set' && effect.branch !== undefined ? { branch: effect.branch } : {}),
    ...(cause ? { cause } : {}),
    ...((effect.act === 'set' || effect.act === 'leave') && effect.because !== undefined
      ? { because: effect.because }
      : {}),
  };
}

/** A list of one stands for the one where the field holds one (DMN's coercion from a singleton list). */
function coerce(value: Value, { field, type }: Slot, writing: Writing): ReturnType<Slot['type']['coerce']> {
  if (!isList(value) || type.chooses === 'many') return type.coerce(value, field, writing);
  return type.coerce(value.length === 0 ? null : value.length === 1 ? value[0] : value, field, writing);
}

const mostShown = 200;
function shortText(field: Field, v: Value, writing: Writing): string {
  const text = writtenGiven(field, v, writing);
  return text.length > mostShown ? `${text.slice(0, mostShown - 1)}…` : text;
}

/**
 * A value for another record: checked against its field here, so that the rule that gives it is the one that is named. A
 * value that a person holds there stands, where the rule says that the person wins.
 */
function send(
  run: Run,
  r: CompiledRule,
  { to, field: key, value, way }: Extract<Effect, { act: 'send' }>,
): EffectResult {
  const type = run.related.typeOf(to.recordType);
  const target = type?.slots[type.slotOf.get(key) ?? noSlot];
  if (!target) return nothingWritten;
  const coerced = coerce(value, target, run.writing);
  if ('problem' in coerced) {
    const text = `${r.rule.name} gives ${shortText(target.field, value, run.writing)} for ${target.field.name}, which ${coerced.problem}.`;
    return { wrote: false, ...stopWith(run, r, text, noSlot) };
  }
  const from = run.givenTo(to, key) ?? run.related.storedOf(to, key);
  const result = updatedList(from, coerced.value, way ?? 'replace', target);
  const outcome = { field: key, from, to: result, on: { recordType: to.recordType, id: to.id } };
  if (sameStored(from, result)) return { wrote: false, outcome: { ...outcome, cause: 'same value' } };
  const { winner } = r.rule;
  if (winner === 'person' && run.world.held?.(to.recordType, to.id).includes(key))
    return { wrote: false, outcome: { ...outcome, to: from, cause: 'held by a person' } };
  const update = way === 'add' || way === 'remove' ? { update: { way, value: coerced.value } } : {};
  run.send({ recordType: to.recordType, id: to.id, field: key, value: result, rule: r.rule.key, winner, ...update });
  return { wrote: true, outcome };
}

/** Step 5: why a value set by hand stands against the rule, if it does. */
function personWins(run: Run, r: CompiledRule, slot: SlotIndex): 'held by a person' | 'typed later' | undefined {
  const { winner } = r.rule;
  if (winner === 'person' && run.held[slot]) return 'held by a person';
  if (winner !== 'later' || run.setByRule(slot)) return undefined;
  const typed = run.typedAt[slot]!;
  // With no known order, what was sent stands.
  if (typed === 0) return run.sent[slot] && run.changed(slot) ? 'typed later' : undefined;
  return latestCause(run, r) < typed ? 'typed later' : undefined;
}

function latestCause(run: Run, r: CompiledRule): number {
  let latest = 0;
  if (run.write.typed.length === 0) return 0;
  for (const slot of r.wakes) if (run.changed(slot)) latest = Math.max(latest, run.typedAt[slot]!);
  return latest;
}
