/**
 * One write, settled: a pure function. No clock, network, database or interface; the same inputs give the same bytes
 * in the browser and on the server.
 */
import { isBlankStored, sameStored } from '../field-types/field-type.ts';
import type { Host } from '../functions/function.ts';
import type { Effect, Way } from '../rule-kinds/rule-kind.ts';
import type { Stored } from '../rulebook/document.ts';
import { Decimal } from '../values/number.ts';
import { isList, valueToText, type Value } from '../values/value.ts';
import { constrain, fieldStates, refuseLocked, requireFilled } from './constraints.ts';
import { makeNotifications } from './notices.ts';
import type { CompiledRule, Program, Slot } from './program.ts';
import { attempt, Run } from './run.ts';
import type { Change, Settlement, TraceOutcome, Verdict, Write } from './settlement.ts';
import { heldBefore, isAwake, mayNotify } from './waking.ts';
import { emptyWorld, type World } from './world.ts';

/** Rounds after which a circle of rules is said not to settle. */
export const circleRounds = 20;

export interface SettleOptions {
  /** Leave the trace out, for bulk runs. */
  readonly trace?: boolean;
  /** In place of the program's own. */
  readonly host?: Host;
}

const none: readonly never[] = [];

/** @throws {RangeError} for a record type that the program does not know: the caller's mistake, not a user's. */
export function settle(
  program: Program,
  write: Write,
  world: World = emptyWorld,
  options: SettleOptions = {},
): Settlement {
  const type = program.types.get(write.recordType);
  if (!type) throw new RangeError(`no record type ${write.recordType}`);
  const run = new Run(program, type, write, world, options.trace !== false, options.host ?? program.host);
  wakeFirst(run);
  takeSent(run);
  const unsettled = goDown(run);
  return finish(run, unsettled);
}

/** Standing causes: a new record, *every write*, rules named by a backfill or request, related fields that changed. */
function wakeFirst(run: Run): void {
  const { type, write, woken } = run;
  for (const r of type.everyWrite) woken.add(r.at);
  if (write.before === null) for (const r of type.fresh) woken.add(r.at);
  if (write.woken) for (const r of type.rules) if (write.woken.includes(r.rule.key)) woken.add(r.at);
  for (const path of write.relatedChanges ?? []) for (const at of type.wokenByRelated.get(path) ?? []) woken.add(at);
  for (const key of write.handBack ?? []) {
    const slot = type.slotOf.get(key);
    if (slot === undefined) continue;
    run.held[slot] = 0;
    for (const r of type.rules) if (r.writes.includes(slot)) woken.add(r.at);
  }
}

/** Step 1: `after` = before + sent, coerced; what cannot be coerced is a message on its field. */
function takeSent(run: Run): void {
  const { type, write } = run;
  const { slotOf, slots, locked } = type;
  const holds = run.entryPoint?.byHand === true || write.hold === true;
  const { typed } = write;
  for (let i = 0; i < typed.length; i++) {
    const slot = slotOf.get(typed[i]!);
    if (slot !== undefined) run.typedAt[slot] = i + 1;
  }
  for (const key of Object.keys(write.sent)) {
    const value = write.sent[key];
    const slot = slotOf.get(key);
    if (slot === undefined) {
      run.messages.push({ severity: 'stop', field: key, text: `There is no field ${key}.` });
      continue;
    }
    run.sent[slot] = 1;
    const { field, type: fieldType } = slots[slot]!;
    const coerced = fieldType.coerce(value, field);
    if ('problem' in coerced) {
      run.messages.push({ severity: 'stop', field: key, text: `${shown(value)} ${coerced.problem}.` });
      continue;
    }
    if (locked.has(slot)) {
      run.refusable ??= new Map();
      run.refusable.set(slot, coerced.value);
      continue;
    }
    if (holds && run.typedAt[slot]! > 0) run.held[slot] = 1;
    run.take(slot, coerced.value);
  }
}

/** Steps 3 to 6: down the order once; the rules of a circle repeat until nothing changes. True: one did not settle. */
function goDown(run: Run): boolean {
  const { rules } = run.type;
  const { woken } = run;
  let unsettled = false;
  for (let at = woken.next(0); at >= 0;) {
    const rule = rules[at]!;
    if (rule.circle < 0) {
      consider(run, rule, false);
      at = woken.next(at + 1);
    } else {
      const ring = rules.filter((r) => r.circle === rule.circle);
      unsettled = runCircle(run, ring) || unsettled;
      at = woken.next(ring[ring.length - 1]!.at + 1);
    }
  }
  return unsettled;
}

function runCircle(run: Run, ring: readonly CompiledRule[]): boolean {
  for (let round = 1; ; round++) {
    const awake = ring.filter((r) => run.woken.has(r.at));
    if (awake.length === 0) return false;
    if (round > circleRounds) {
      const names = ring.map((r) => r.rule.name).join(', ');
      run.messages.push({ severity: 'stop', text: `These rules depend on each other and do not settle: ${names}.` });
      return true;
    }
    for (const r of awake) {
      // Messages and notifications are those of the last round.
      forget(run.messages, r);
      forget(run.notifications, r);
      forget(run.writes, r);
      run.woken.remove(r.at);
      consider(run, r, round > 1);
    }
  }
}

function forget(list: { readonly rule?: string }[], r: CompiledRule): void {
  for (let i = list.length - 1; i >= 0; i--) if (list[i]!.rule === r.rule.key) list.splice(i, 1);
}

function consider(run: Run, r: CompiledRule, again: boolean): void {
  const { rule } = r;
  // Constraints are looked at once, on the settled record; a rule may have both.
  if (r.demands && !(r.steps && r.steps.length > 0)) return;
  const { write } = run;
  const named = write.woken?.includes(rule.key) ?? false;
  if (!run.admitted[r.at] && !(named && rule.on && r.sound)) return run.noteIdle(r);
  if (run.waits(r)) return run.suspend(r);
  if (run.tracing) run.clearLog();
  attempt(run, r, () => {
    if (!again && !named && !isAwake(run, r)) return run.note(r, 'asleep');
    const holds = r.condition ? r.condition(run.env) : true;
    if (holds !== true) return run.note(r, holds === false ? 'condition false' : 'condition unknown');
    if (rule.repeat === 'starts' && !named && heldBefore(run, r)) return run.note(r, 'already held');
    act(run, r, named);
  });
}

/** Step 4: the outcomes in order, each seeing what the ones before it did; then what is to be sent out. */
function act(run: Run, r: CompiledRule, named: boolean): void {
  const { tracing, env } = run;
  const outcomes: TraceOutcome[] = [];
  const read = tracing ? run.readBy(r) : undefined;
  if (tracing) run.weigh(r);
  let stop: string | undefined;
  let wrote = false;
  if (env.variables.length > 0) env.variables.length = 0;
  for (const step of r.steps ?? [])
    for (const effect of step(env)) {
      if (effect.act === 'keep') {
        env.variables[effect.place] = effect.value;
        continue;
      }
      const done = effect.act === 'send' ? send(run, r, effect) : apply(run, r, effect);
      wrote ||= done.wrote;
      stop ??= done.stop;
      if (tracing && done.outcome) outcomes.push(done.outcome);
    }
  if (stop === undefined && r.notices.length > 0 && !r.demands && mayNotify(run, named)) {
    const made = makeNotifications(r.rule.key, r.notices, env, run.write.now);
    run.notifications.push(...made);
    wrote ||= made.length > 0;
  }
  if (!tracing) return;
  const all = (run.env.asked?.log.length ?? 0) > 0 ? run.readBy(r) : read;
  run.note(r, stop === undefined ? (wrote ? 'ran' : 'no effect') : 'stops', outcomes, all, stop);
}

interface Done {
  readonly wrote: boolean;
  readonly stop?: string;
  readonly outcome?: TraceOutcome;
}

const nothingDone: Done = { wrote: false };

type Applied = Exclude<Effect, { act: 'keep' | 'send' }>;

function apply(run: Run, r: CompiledRule, effect: Applied): Done {
  const slot = effect.target;
  const place = run.type.slots[slot];
  if (!place) return { wrote: false, ...stopWith(run, r, effect.act === 'stop' ? effect.message : '', slot) };
  const from = run.after[slot]!;
  if (effect.act === 'leave') return left(run, place, from, effect, effect.cause);
  if (effect.act === 'stop') {
    const text = effect.message || `${r.rule.name} gives no value for ${place.field.name}.`;
    return { ...left(run, place, from, effect, effect.cause), ...stopWith(run, r, text, slot) };
  }
  if (effect.act === 'fill' && (!isBlankStored(from) || run.sent[slot]))
    return left(run, place, from, effect, 'filled already');
  const person = personWins(run, r, slot);
  if (person) return left(run, place, from, effect, person);
  const coerced = coerce(effect.value, place);
  if ('problem' in coerced) {
    const text = `${r.rule.name} gives ${valueToText(effect.value)}, which ${coerced.problem}.`;
    if (effect.act === 'fill' || !effect.lenient)
      return { ...left(run, place, from, effect, undefined), ...stopWith(run, r, text, slot) };
    run.say(r, 'warn', text, slot);
    return left(run, place, from, effect, 'does not fit');
  }
  const isSet = effect.act === 'set';
  const to = isSet && effect.way ? combined(from, coerced.value, effect.way, place) : coerced.value;
  run.held[slot] = 0;
  const cause = isSet ? effect.cause : undefined;
  if (sameStored(from, to)) return left(run, place, from, effect, cause ?? 'same value');
  const latest = latestCause(run, r);
  if (latest > 0) run.typedAt[slot] = latest;
  run.assign(slot, to, r.author);
  return run.tracing ? { wrote: true, outcome: traceOutcome(place.field.key, from, to, effect, cause) } : written;
}

const written: Done = { wrote: true };

/** Nothing was written, and why. */
function left(run: Run, { field }: Slot, from: Stored, effect: Effect, cause: TraceOutcome['cause']): Done {
  return run.tracing ? { wrote: false, outcome: traceOutcome(field.key, from, from, effect, cause) } : nothingDone;
}

function stopWith(run: Run, r: CompiledRule, text: string, slot: number): { readonly stop: string } {
  const said = text || `${r.rule.name} gives no value.`;
  run.say(r, 'stop', said, slot);
  return { stop: said };
}

function traceOutcome(
  field: string,
  from: Stored,
  to: Stored,
  effect: Effect,
  cause: TraceOutcome['cause'],
): TraceOutcome {
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
function coerce(value: Value, { field, type }: Slot): ReturnType<Slot['type']['coerce']> {
  const only = isList(value) && field.type !== 'multi-select' && value.length === 1 ? value[0] : value;
  return type.coerce(isList(only as Value) && (only as readonly Value[]).length === 0 ? null : only, field);
}

function combined(from: Stored, given: Stored, way: Way, { field, type }: Slot): Stored {
  if (way === 'replace') return given;
  const [old, more] = [listOf(from), listOf(given)];
  const keys = way === 'add' ? [...new Set([...old, ...more])] : old.filter((k) => !more.includes(k));
  const coerced = type.coerce(keys, field);
  return 'value' in coerced ? coerced.value : given;
}

const listOf = (v: Stored): readonly string[] => (Array.isArray(v) ? (v as readonly string[]) : []);

/** A value for another record: checked against its field here, so that the rule that gives it is the one that is named. */
function send(run: Run, r: CompiledRule, { to, field: key, value, way }: Extract<Effect, { act: 'send' }>): Done {
  const type = run.related.typeOf(to.recordType);
  const place = type?.slots[type.slotOf.get(key) ?? -1];
  if (!place) return nothingDone;
  const coerced = coerce(value, place);
  if ('problem' in coerced) {
    const text = `${r.rule.name} gives ${valueToText(value)} for ${place.field.name}, which ${coerced.problem}.`;
    return { wrote: false, ...stopWith(run, r, text, -1) };
  }
  const from = run.related.storedOf(to, key);
  const result = way ? combined(from, coerced.value, way, place) : coerced.value;
  const outcome = { field: key, from, to: result, on: { recordType: to.recordType, id: to.id } };
  if (sameStored(from, result)) return { wrote: false, outcome: { ...outcome, cause: 'same value' } };
  run.writes.push({ recordType: to.recordType, id: to.id, field: key, value: result, rule: r.rule.key });
  return { wrote: true, outcome };
}

/** Step 5: why a value set by hand stands against the rule, if it does. */
function personWins(run: Run, r: CompiledRule, slot: number): 'held by a person' | 'typed later' | undefined {
  const { winner } = r.rule;
  if (winner === 'person' && run.held[slot]) return 'held by a person';
  if (winner !== 'later' || run.setByRule(slot)) return undefined;
  const typed = run.typedAt[slot]!;
  return typed > 0 && latestCause(run, r) < typed ? 'typed later' : undefined;
}

function latestCause(run: Run, r: CompiledRule): number {
  let latest = 0;
  if (run.write.typed.length === 0) return 0;
  for (const slot of r.wakes) if (run.changed(slot)) latest = Math.max(latest, run.typedAt[slot]!);
  return latest;
}

function finish(run: Run, unsettled: boolean): Settlement {
  refuseLocked(run);
  constrain(run);
  requireFilled(run);
  const { slots } = run.type;
  const data: Record<string, Stored> = {};
  const changes: Change[] = [];
  const held: string[] = [];
  for (let slot = 0; slot < slots.length; slot++) {
    const { key } = slots[slot]!.field;
    const to = run.after[slot]!;
    if (!isBlankStored(to)) data[key] = to;
    if (run.changed(slot)) changes.push({ field: key, from: run.before[slot]!, to, author: run.author(slot) });
    if (run.held[slot]) held.push(key);
  }
  const { messages, notifications, writes } = run;
  const asks = run.env.asked ? [...run.env.asked.asks.values()] : none;
  return {
    verdict: verdictOf(run, unsettled, asks.length > 0),
    data,
    held,
    changes,
    states: fieldStates(run),
    messages,
    notifications,
    writes,
    asks,
    trace: run.trace(),
  };
}

function verdictOf(run: Run, unsettled: boolean, waiting: boolean): Verdict {
  if (waiting) return 'waiting';
  if (unsettled) return 'does not settle';
  return run.messages.some((m) => m.severity === 'stop') ? 'stopped' : 'saved';
}

function shown(v: unknown): string {
  if (v instanceof Decimal) return v.toString();
  const text = typeof v === 'string' ? v : (JSON.stringify(v) ?? String(v));
  return text.length > 80 ? `${text.slice(0, 79)}…` : text;
}
