/** Step 7: what must hold of the settled record. All messages come together, each on its field. */
import type { Environment } from '../language/expression/runtime.ts';
import { isBlankStored, sameStored } from '../language/field-types/field-type.ts';
import { writtenOrBlank } from '../language/wording/written.ts';
import type { FieldConstraints } from '../compile/rule-kinds/rule-kind.ts';
import type { Stored } from '../document/document.ts';
import type { CompiledRule } from '../compile/compiled.ts';
import type { Run } from './run.ts';
import { clearLog, note, noted, readBy } from './trace.ts';
import { heldBefore, isAwake, mayNotify } from './waking.ts';
import type { FieldState } from './settlement.ts';
import type { SlotIndex } from '../document/slots.ts';

/** A value sent for a locked field that differs from the settled one is refused at every entry point. */
export function refuseLocked(run: Run): void {
  for (const [slot, value] of run.refusable ?? []) {
    if (sameStored(value, run.after[slot])) continue;
    const { field } = run.type.slots[slot]!;
    const r = run.type.locked.get(slot)!;
    const settled = writtenOrBlank(field, run.after[slot]!, run.writing);
    run.say(r, 'stop', `${field.name} is locked: ${r.rule.name} gives ${settled}.`, slot);
  }
}

export function constrain(run: Run): void {
  for (const r of run.type.demanding) {
    if (!run.takesPart(r)) continue;
    if (run.waits(r)) {
      run.suspend(r);
      continue;
    }
    try {
      if (run.trace) clearLog(run);
      const holds = r.condition ? r.condition(run.env) : true;
      if (holds === true) demand(run, r, r.fieldConstraints!);
      else note(run, r, holds === false ? 'condition false' : 'condition unknown');
      if (run.env.meter.exhausted) run.fail(r, run.env.meter.exhausted);
    } catch (e) {
      run.caught(r, e);
    }
  }
}

function demand(run: Run, r: CompiledRule, demands: FieldConstraints): void {
  const said = run.messages.length;
  // Where nobody sent anything, what failed before does not stop the write.
  const before = run.entryPoint?.followsUp && run.write.before ? run.environmentBefore() : undefined;
  const failedBefore = (holds: (env: Environment) => boolean): boolean =>
    before !== undefined && (!r.condition || r.condition(before) === true) && !holds(before);
  for (const slot of demands.hidden) run.state(slot, { hidden: r.rule.key });
  for (const slot of demands.required)
    requireSlot(
      run,
      r,
      slot,
      failedBefore(() => !isBlankStored(run.before[slot])),
    );
  if (demands.locked.length > 0 && isLocked(run, r)) for (const slot of demands.locked) lockSlot(run, r, slot);
  for (const limit of demands.limits) limitOptions(run, r, limit, failedBefore);
  for (const c of demands.constraints)
    if (c.holds(run.env) === false)
      run.say(r, failedBefore((env) => c.holds(env) !== false) ? 'warn' : c.severity, c.message(run.env), c.field);
  const stops = run.messages.slice(said).find((m) => m.severity === 'stop');
  if (run.trace) {
    const outcomes = noted(run, r)?.outcomes ?? [];
    note(run, r, stops ? 'stops' : 'ran', outcomes, readBy(run, r), stops?.text);
  }
  if (!stops && tells(run, r)) (run.telling ??= new Set()).add(r);
}

function limitOptions(
  run: Run,
  r: CompiledRule,
  limit: FieldConstraints['limits'][number],
  failedBefore: (holds: (env: Environment) => boolean) => boolean,
): void {
  const allowed = limit.allowed(run.env);
  if (!allowed) return;
  // Several limits on one field meet.
  const others = run.states?.get(limit.field)?.allowed;
  run.state(limit.field, { allowed: others ? others.filter((k) => allowed.includes(k)) : allowed });
  if (isAllowed(run.after[limit.field], allowed)) return;
  // A limit that clears has said by now which option it refuses.
  if (limit.otherwise !== 'stop' && isRefused(run, limit.field)) return;
  const already = failedBefore((env) => isAllowed(run.before[limit.field], limit.allowed(env) ?? allowed));
  run.say(r, already ? 'warn' : 'stop', limit.message, limit.field);
}

const isRefused = (run: Run, slot: SlotIndex): boolean =>
  run.messages.some((m) => m.severity === 'stop' && m.field === run.type.slots[slot]!.field.key);

/** A constraint is looked at in every write; it tells someone only when it wakes, and not again while it holds on. */
function tells(run: Run, r: CompiledRule): boolean {
  if (r.notices.length === 0) return false;
  const named = run.isNamed(r);
  if (!mayNotify(run, named) || !(named || isAwake(run, r))) return false;
  if (r.rule.repeat !== 'starts' || named) return true;
  if (heldBefore(run, r)) return false;
  (run.started ??= []).push(r.rule.key);
  return true;
}

function requireSlot(run: Run, r: CompiledRule, slot: SlotIndex, already: boolean): void {
  run.state(slot, { required: true });
  const { field } = run.type.slots[slot]!;
  if (run.isBlank(slot)) run.say(r, already ? 'warn' : 'stop', `${field.name} has to be filled in.`, slot);
}

/** A lock with a condition is shut where that held before and holds now; one without always. */
function isLocked(run: Run, r: CompiledRule): boolean {
  return !r.condition || (run.write.before !== null && r.condition(run.environmentBefore()) === true);
}

/** Refuses a change by hand of a field that is locked. */
function lockSlot(run: Run, r: CompiledRule, slot: SlotIndex): void {
  run.state(slot, { locked: r.rule.key });
  if (!run.sent[slot] || run.setByRule(slot) || !run.changed(slot)) return;
  const { field } = run.type.slots[slot]!;
  run.say(r, 'stop', `${field.name} is locked: ${r.rule.name}.`, slot);
}

export function isAllowed(value: Stored | undefined, allowed: readonly string[]): boolean {
  if (isBlankStored(value)) return true;
  return Array.isArray(value) ? value.every((v: string) => allowed.includes(v)) : allowed.includes(value as string);
}

/** Fields that have to be filled in whatever the rules say. */
export function requireFilled(run: Run): void {
  const { moment } = run.write;
  if (moment !== 'creating' && moment !== 'updating') return;
  for (const slot of run.type.required) {
    const { field } = run.type.slots[slot]!;
    if (!run.isBlank(slot)) continue;
    if (run.messages.some((m) => m.severity === 'stop' && m.field === field.key)) continue;
    const already = run.entryPoint?.followsUp && run.write.before && isBlankStored(run.before[slot]);
    run.addMessage({
      severity: already ? 'warn' : 'stop',
      field: field.key,
      text: `${field.name} has to be filled in.`,
    });
  }
}

const noStates: Readonly<Record<string, FieldState>> = {};

export function fieldStates(run: Run): Readonly<Record<string, FieldState>> {
  const { locked, required, slots } = run.type;
  if (locked.size === 0 && required.length === 0 && !run.states) return noStates;
  const states: Record<string, FieldState> = {};
  for (const [slot, r] of locked) states[slots[slot]!.field.key] = { locked: r.rule.key };
  for (const slot of required) {
    const { key } = slots[slot]!.field;
    states[key] = { ...states[key], required: true };
  }
  for (const [slot, state] of run.states ?? []) {
    const { key } = slots[slot]!.field;
    states[key] = { ...state, ...states[key] };
  }
  return states;
}
