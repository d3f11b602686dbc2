/** Notifications of a rule: compiled once; made when the rule acts. */
import { type CompiledNotice } from '../compile/notices.ts';
import type { Environment } from '../language/expression/runtime.ts';
import { addDays, dateText, parseDate } from '../values/calendar.ts';
import { foldedKey } from '../values/unicode-case.ts';
import { type Value, isBlank, isList, valueToText } from '../values/value.ts';
import type { Run } from './run.ts';
import type { Notification } from './settlement.ts';
import { noted } from './trace.ts';

/** One message for each address; two that differ only in case and spaces are one. */
export function makeNotifications(
  rule: string,
  notices: readonly CompiledNotice[],
  env: Environment,
  now: string,
): Notification[] {
  return notices.flatMap(({ notice, to, subject, body }) => {
    const addressees = to(env);
    const addresses = new Map<string, string>();
    for (const v of isList(addressees) ? addressees.flat() : [addressees]) {
      if (isBlank(v)) continue;
      const address = valueToText(v).trim();
      if (!addresses.has(foldedKey(address))) addresses.set(foldedKey(address), address);
    }
    const due = notice.dueInDays === undefined ? null : dueDate(now, notice.dueInDays);
    return [...addresses.values()].map((address) => ({
      channel: notice.channel,
      to: address,
      subject: textOf(subject(env)),
      body: textOf(body(env)),
      ...(due === null ? {} : { due }),
      rule,
    }));
  });
}

/** What rules that acted have to tell, of the settled record. */
export function tellSettled(run: Run): void {
  for (const r of run.telling ?? []) {
    try {
      const made = makeNotifications(r.rule.key, r.notices, run.env, run.write.now);
      if (run.env.meter.exhausted) run.fail(r, run.env.meter.exhausted);
      if (made.length === 0) continue;
      run.notify(made);
      const entry = noted(run, r);
      if (entry?.verdict === 'no effect') run.trace!.entries[r.runIndex] = { ...entry, verdict: 'ran' };
    } catch (e) {
      run.caught(r, e);
    }
  }
}

const textOf = (v: Value): string => (typeof v === 'string' ? v : '');

function dueDate(now: string, days: number): string | null {
  const date = parseDate(now.slice(0, 10));
  const due = date && addDays(date, days);
  return due && dateText(due);
}
