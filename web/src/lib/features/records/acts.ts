/** What a person did on a form and has not saved yet, in order; never changed in place. */
import type { Field, RecordData } from '@rigid-rule/core/document';
import { typeInto, type Typed } from '@rigid-rule/core/related';
import type { SaveContent, Stores } from './record-server.ts';

export interface Acts {
  /** In the order in which it was last typed. */
  readonly typed: readonly Typed[];
  /** Keys of standing rules whose answer the person took. */
  readonly woken: readonly string[];
  /** Keys of fields that the person handed back to their rules. */
  readonly handedBack: readonly string[];
}

export const noActs: Acts = { typed: [], woken: [], handedBack: [] };

export const isTouched = ({ typed, woken, handedBack }: Acts): boolean =>
  typed.length + woken.length + handedBack.length > 0;

/** `starting`: what stands in the field before anything is typed; typed again, nothing is typed. */
export const withValue = (acts: Acts, field: Field, value: unknown, starting: RecordData[string]): Acts => ({
  ...acts,
  typed: typeInto(acts.typed, field, value, starting),
  handedBack: acts.handedBack.filter((key) => key !== field.key),
});

/** What was set by hand is the rules' again. */
export const withHandedBack = (acts: Acts, key: string): Acts => ({
  ...acts,
  typed: acts.typed.filter((t) => t.key !== key),
  handedBack: [...acts.handedBack.filter((k) => k !== key), key],
});

/** What was done after `before`. */
export const actsSince = (acts: Acts, before: Acts): Acts => ({
  typed: acts.typed.filter((t) => !before.typed.includes(t)),
  woken: acts.woken.filter((rule) => !before.woken.includes(rule)),
  handedBack: acts.handedBack.filter((key) => !before.handedBack.includes(key)),
});

/** The answer of a standing rule is taken. */
export const withWoken = (acts: Acts, rule: string): Acts => ({ ...acts, woken: [...acts.woken, rule] });

/**
 * What a save sends, but for what is in sight. `begun`: what a blank form opened with; `formOnly`: what rules wrote that
 * run only on forms, which goes along as sent and not as typed.
 */
export function saveRequestOf(
  { typed, woken, handedBack }: Acts,
  form: string,
  stored: Stores | null,
  begun: RecordData,
  formOnly: RecordData,
): SaveContent {
  const own = typed.filter((t) => !(t.key in formOnly));
  return {
    ...(stored ? { id: stored.id, version: stored.version } : {}),
    form,
    sent: { ...begun, ...formOnly, ...Object.fromEntries(own.map((t) => [t.key, t.value])) },
    typed: own.map((t) => t.key),
    woken,
    handBack: handedBack,
  };
}
