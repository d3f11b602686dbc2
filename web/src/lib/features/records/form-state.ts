/** What stands on a form, and what the rules made of it: plain data, whoever worked it out. */
import type { TraceEntry } from '@rigid-rule/core/compile';
import type { Moment, RecordData, RecordType, Stored, User, Winner } from '@rigid-rule/core/document';
import { storedOf, type Typed } from '@rigid-rule/core/related';
import type { Settlement } from '@rigid-rule/core/settle';
import type { Stores } from './record-server.ts';

/** Which form of which record type, and who fills it in. */
export interface FormIdentity {
  readonly recordType: string;
  /** Key of the form. */
  readonly form: string;
  readonly user?: User;
}

export interface FormInput {
  readonly stored: Stores | null;
  /** In the order in which it was last typed. */
  readonly typed: readonly Typed[];
  /** Keys of standing rules whose answer the person took. */
  readonly woken: readonly string[];
  /** Fields that the person handed back to their rules. */
  readonly handedBack: readonly string[];
  /** ISO 8601 instant of the last act on the form. */
  readonly now: string;
}

/** What stands on the form: worked out with each value that is typed. */
export interface FormSettled {
  /** What a blank form opens with. */
  readonly opening?: Settlement;
  readonly settlement: Settlement;
}

/** What follows from it: worked out once typing pauses. */
export interface FormOutlook {
  /** Results of rules that run only on forms: sent when saving, as sent and not as typed. */
  readonly formOnly: RecordData;
  /** What saving would give. */
  readonly saving: Settlement;
  /** What each standing rule says, also where nothing changed in this sitting. */
  readonly explained: Settlement;
}

/** A rule of the release, as far as a form has to know it before anything is typed. */
export interface RuleOnForm {
  readonly key: string;
  readonly name: string;
  readonly winner: Winner;
  /** Keys of the fields that it writes. */
  readonly writes: readonly string[];
}

/** With what a form is opened: worked out where the page is put together. */
export interface FormStart extends FormSettled, Pick<FormOutlook, 'explained'> {
  readonly rules: readonly RuleOnForm[];
}

export const savingMoment = (stored: Stores | null): Moment => (stored ? 'updating' : 'creating');

/** What a blank form opens with: given by rules, to be changed or cleared like anything else. */
export const begunBy = (opening: Settlement | undefined): RecordData =>
  Object.fromEntries(
    (opening?.changes ?? []).flatMap((c) => (c.author.by === 'rule' ? [[c.field, c.to] as const] : [])),
  );

/** The rule that gave a field its value in a settlement, with what it read: the last one that did. */
export function writtenIn(settlement: Settlement, key: string): TraceEntry | undefined {
  const { author } = settlement.changes.find((c) => c.field === key) ?? {};
  const by = author?.by === 'rule' ? author.rule : undefined;
  return settlement.trace.findLast(
    (t) => ['ran', 'stops'].includes(t.verdict) && (!by || t.rule === by) && t.outcomes.some((o) => o.field === key),
  );
}

/** A settlement with what was typed since laid over it, until the rules have looked at that. */
export function withTyped(settlement: Settlement, { fields }: RecordType, typed: readonly Typed[]): Settlement {
  if (typed.length === 0) return settlement;
  const data: Record<string, Stored> = { ...settlement.data };
  for (const { key, value } of typed) {
    const field = fields.find((f) => f.key === key);
    const stored = field && storedOf(value, field);
    if (stored !== undefined) data[key] = stored;
  }
  return { ...settlement, data };
}
