/**
 * One write, settled: a pure function. No clock, network, database or interface; the same inputs give the same bytes
 * in the browser and on the server.
 */
import { isBlankStored } from '../language/field-types/field-type.ts';
import { writtenGiven } from '../language/wording/written.ts';
import type { Writing } from '../language/types/writing.ts';
import type { Field, RecordData, Stored } from '../document/document.ts';
import { isNumber } from '../values/number.ts';
import { runCircle } from './circle.ts';
import { constrain, fieldStates, refuseLocked, requireFilled } from './constraints.ts';
import { tellSettled } from './notices.ts';
import { act } from './outcomes.ts';
import type { CompiledRule, Program, TypeProgram } from '../compile/compiled.ts';
import { Run } from './run.ts';
import type { Change, Settlement, SettleOptions, Verdict } from './settlement.ts';
import type { Author } from '../compile/trace-entry.ts';
import type { Write } from '../records/write.ts';
import { clearLog, note, noteIdle, traceOf } from './trace.ts';
import { heldBefore, isAwake } from './waking.ts';
import { emptySource, type RecordSource } from '../records/record-source.ts';
import { slotAt } from '../document/slots.ts';

const none: readonly never[] = [];

/** @throws {RangeError} for a record type that the program does not know: the caller's mistake, not a user's. */
export function settle(
  program: Program,
  write: Write,
  world: RecordSource = emptySource,
  options: SettleOptions = {},
): Settlement {
  const type = program.types.get(write.recordType);
  if (!type) throw new RangeError(`no record type ${write.recordType}`);
  const run = takeRun(program, type);
  run.reset(write, world, options);
  const unsettled = settleRun(run, false);
  const settlement = settlementOf(run, unsettled);
  if (options.work) options.work.steps += run.env.meter.spent;
  spare.set(type, run);
  return settlement;
}

/** A run is used again for the next write of its type; one that ended in an error is not. */
const spare = new WeakMap<TypeProgram, Run>();

function takeRun(program: Program, type: TypeProgram): Run {
  const run = spare.get(type);
  if (!run || run.program !== program) return new Run(program, type);
  spare.delete(type);
  return run;
}

/** Steps 1 to 7 of a write that has begun. True: it does not settle. `stored`: what was sent is in stored form. */
export function settleRun(run: Run, stored: boolean): boolean {
  wakeFirst(run);
  takeSent(run, stored);
  const unsettled = goDown(run);
  refuseLocked(run);
  constrain(run);
  requireFilled(run);
  tellSettled(run);
  return unsettled;
}

/** Standing causes: a new record, *every write*, rules named by a backfill or request, related fields that changed. */
function wakeFirst(run: Run): void {
  const { type, write, woken } = run;
  for (const r of type.everyWrite) woken.add(r.runIndex);
  if (write.before === null) for (const r of type.onNewRecord) woken.add(r.runIndex);
  if (write.woken) for (const r of type.rules) if (run.isAskedFor(r)) woken.add(r.runIndex);
  for (const path of write.relatedChanges ?? none)
    for (const at of type.wokenByRelated.get(path) ?? none) woken.add(at);
  for (const key of write.handBack ?? none) {
    const slot = type.slotOf.get(key);
    if (slot === undefined) continue;
    run.held[slot] = 0;
    for (const r of type.rules) if (r.writes.includes(slot)) woken.add(r.runIndex);
  }
}

/** Step 1: `after` = before + sent, coerced; what cannot be coerced is a message on its field. */
function takeSent(run: Run, stored: boolean): void {
  const { type, write, held, typedAt } = run;
  const { slotOf, slots, locked } = type;
  const holds = run.entryPoint?.byHand === true || write.hold === true;
  const { typed, sent } = write;
  for (let i = 0; i < typed.length; i++) {
    const slot = slotOf.get(typed[i]!);
    if (slot !== undefined) typedAt[slot] = i + 1;
  }
  for (const key in sent) {
    const value = sent[key];
    const slot = slotOf.get(key);
    if (slot === undefined) {
      run.addMessage({ severity: 'stop', field: key, text: `There is no field ${key}.` });
      continue;
    }
    const { field, type: fieldType } = slots[slot]!;
    let taken = value as Stored;
    if (!stored) {
      const coerced = fieldType.coerce(value, field, run.writing);
      if ('problem' in coerced) {
        run.sent[slot] = 1;
        run.addMessage({
          severity: 'stop',
          field: key,
          text: `${shown(value, field, run.writing)} ${coerced.problem}.`,
        });
        continue;
      }
      taken = coerced.value;
    }
    if (locked.size > 0 && locked.has(slot)) {
      // What is only compared does not count as sent: a rule that fills blanks still fills this one.
      run.refusable ??= new Map();
      run.refusable.set(slot, taken);
      continue;
    }
    run.sent[slot] = 1;
    const writtenBy = write.writtenBy?.[key];
    if (writtenBy?.winner === 'person' && held[slot]) continue;
    run.take(slot, taken, writtenBy && { by: 'rule', rule: writtenBy.rule });
    if (holds && typedAt[slot]! > 0) held[slot] = 1;
    else if (!holds && held[slot] && run.changed(slot)) held[slot] = 0;
  }
}

/** Steps 3 to 6: down the order once; the rules of a circle repeat until they settle. True: one did not. */
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
      unsettled = runCircle(run, ring, consider) || unsettled;
      at = woken.next(ring[ring.length - 1]!.runIndex + 1);
    }
  }
  return unsettled;
}

function consider(run: Run, r: CompiledRule, again: boolean): void {
  // Constraints are looked at once, on the settled record; a rule may have both.
  if (r.fieldConstraints && !(r.steps && r.steps.length > 0)) return;
  const named = run.isNamed(r);
  if (!run.admitted[r.runIndex] && !named) return noteIdle(run, r);
  if (run.waits(r)) return run.suspend(r);
  if (run.trace) clearLog(run);
  try {
    look(run, r, again, named);
    if (run.env.meter.exhausted) run.fail(r, run.env.meter.exhausted);
  } catch (e) {
    run.caught(r, e);
  }
}

function look(run: Run, r: CompiledRule, again: boolean, named: boolean): void {
  if (!again && !named && !isAwake(run, r)) return note(run, r, 'asleep');
  const holds = r.condition ? r.condition(run.env) : true;
  if (holds !== true) return note(run, r, holds === false ? 'condition false' : 'condition unknown');
  if (r.rule.repeat === 'starts' && !named && heldBefore(run, r)) return note(run, r, 'already held');
  if (r.rule.repeat === 'starts') (run.started ??= []).push(r.rule.key);
  act(run, r, named);
}

function settlementOf(run: Run, unsettled: boolean): Settlement {
  const { messages, notifications, writes } = run;
  const asks = asksOf(run);
  const rowsAsked = run.env.asked?.rowsAsked;
  return {
    verdict: verdictOf(run, unsettled),
    data: dataOf(run),
    held: heldOf(run),
    changes: changesOf(run, false),
    states: fieldStates(run),
    messages,
    notifications,
    acted: run.started ?? none,
    writes,
    asks,
    ...(rowsAsked && rowsAsked.size > 0 ? { rowsAsked: [...rowsAsked.values()] } : {}),
    trace: traceOf(run),
  };
}

export const asksOf = (run: Run): Settlement['asks'] => {
  const { asked } = run.env;
  return asked && asked.asks.size > 0 ? [...asked.asks.values()] : none;
};

/** The settled record, blanks left out; what the rulebook does not name is carried along. */
export function dataOf(run: Run): RecordData {
  const { type, after, write } = run;
  const { slots, slotOf } = type;
  const data: Record<string, Stored> = {};
  const before = write.before?.data;
  if (before && Object.keys(before).length > run.stored)
    for (const key in before) if (!slotOf.has(key)) data[key] = before[key]!;
  for (let slot = 0; slot < slots.length; slot++) {
    const to = after[slot]!;
    if (to !== null && !isBlankStored(to)) data[slots[slot]!.field.key] = to;
  }
  return data;
}

function heldOf(run: Run): readonly string[] {
  const { held, type } = run;
  let keys: string[] | undefined;
  for (let slot = 0; slot < held.length; slot++) if (held[slot]) (keys ??= []).push(type.slots[slot]!.field.key);
  return keys ?? none;
}

/** What is otherwise than before; `byRules`: only what rules wrote. */
export function changesOf(run: Run, byRules: boolean): readonly Change[] {
  const { slots } = run.type;
  const { before, after } = run;
  const changes: Change[] = [];
  for (let slot = slotAt(0); slot < slots.length; slot = slotAt(slot + 1)) {
    if (before[slot] === after[slot] || (byRules && !run.setByRule(slot)) || !run.changed(slot)) continue;
    const author: Author = run.author(slot);
    changes.push({ field: slots[slot]!.field.key, from: before[slot]!, to: after[slot]!, author });
  }
  return changes;
}

export function verdictOf(run: Run, unsettled: boolean): Verdict {
  const { asked } = run.env;
  if (asked && asked.asks.size + asked.rowsAsked.size > 0) return 'waiting';
  if (unsettled) return 'does not settle';
  const { messages } = run;
  for (const m of messages) if (m.severity === 'stop') return 'stopped';
  return 'saved';
}

/** What was sent, whatever it is. */
function shown(v: unknown, field: Field, writing: Writing): string {
  const text =
    typeof v === 'string' || isNumber(v) ? writtenGiven(field, v, writing) : (JSON.stringify(v) ?? String(v));
  return text.length > 80 ? `${text.slice(0, 79)}…` : text;
}
