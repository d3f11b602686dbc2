/** What came of a write, as a test expects it. */
import type { CompiledRule, TypeProgram } from '../compile/compiled.ts';
import type { Expectation } from '../document/document.ts';
import type { SlotIndex } from '../document/slots.ts';
import type { Settlement } from '../settle/settlement.ts';
import { actedVerdicts } from './run.ts';

/** What a rule has to do with a settled record, as a test says it. */
export function expectationOf(r: CompiledRule, type: TypeProgram, s: Settlement): Expectation {
  const { rule, writes } = r;
  const acted = actedVerdicts.has(s.trace.find((t) => t.rule === rule.key)?.verdict ?? '');
  const fields = Object.fromEntries(
    writes.map((slot) => {
      const { key } = type.slots[slot]!.field;
      return [key, s.data[key] ?? null] as const;
    }),
  );
  const messages = s.messages.filter((m) => m.rule === rule.key).map((m) => m.text);
  const states = r.fieldConstraints ? statesOf(r.fieldConstraints, type, s) : {};
  return {
    ...(writes.length > 0 ? { fields } : {}),
    ...(acted ? { ran: [rule.key] } : { didNotRun: [rule.key] }),
    ...(r.fieldConstraints && messages.length === s.messages.length ? { messages } : {}),
    ...(Object.keys(states).length > 0 ? { states } : {}),
    ...(r.notices.length > 0 ? { notified: s.notifications.map((n) => n.to) } : {}),
    ...(r.structure.sends
      ? { related: s.writes.map(({ id, recordType, field, value }) => ({ recordType, key: id, field, value })) }
      : {}),
    verdict: s.verdict,
  };
}

/** All that can be said of a settled record, as far as a rule is looked at. */
export function wholeExpectation(r: CompiledRule, type: TypeProgram, s: Settlement): Expectation {
  const own = expectationOf(r, type, s);
  const written = s.changes.filter((c) => c.author.by === 'rule').map((c) => [c.field, c.to] as const);
  return {
    ...own,
    fields: { ...Object.fromEntries(written), ...own.fields },
    messages: s.messages.map((m) => m.text),
    notified: s.notifications.map((n) => n.to),
    related: s.writes.map(({ id, recordType, field, value }) => ({ recordType, key: id, field, value })),
  };
}

/** Of the fields that a rule constrains what they are now. */
function statesOf(
  constraints: NonNullable<CompiledRule['fieldConstraints']>,
  type: TypeProgram,
  s: Settlement,
): NonNullable<Expectation['states']> {
  const found: Record<string, Record<string, unknown>> = {};
  const put = (slot: SlotIndex, what: string, value: unknown): void => {
    const { key } = type.slots[slot]!.field;
    found[key] = { ...found[key], [what]: value };
  };
  const state = (slot: SlotIndex) => s.states[type.slots[slot]!.field.key];
  for (const what of ['required', 'locked', 'hidden'] as const)
    for (const slot of constraints[what]) put(slot, what, state(slot)?.[what] !== undefined);
  for (const { field } of constraints.limits) put(field, 'allowed', state(field)?.allowed ?? null);
  return found;
}
