/** Notifications of a rule: compiled once; made when the rule acts. */
import { type Diagnostic, diagnostic, nowhere } from '../diagnostics/catalog.ts';
import { createFormula } from '../expression/formula.ts';
import type { Compiled, Environment } from '../expression/runtime.ts';
import type { Scope } from '../expression/scope.ts';
import { createTemplate } from '../expression/template.ts';
import type { PlacedFormula } from '../rule-kinds/rule-kind.ts';
import type { Notice } from '../rulebook/document.ts';
import { addDays, dateText, parseDate } from '../values/calendar.ts';
import { foldedKey } from '../values/unicode-case.ts';
import { type Value, isBlank, isList, valueToText } from '../values/value.ts';
import type { Run } from './run.ts';
import type { Notification } from './settlement.ts';
import { noted } from './trace.ts';

export interface CompiledNotice {
  readonly notice: Notice;
  readonly to: Compiled;
  readonly subject: Compiled;
  readonly body: Compiled;
}

export interface CompiledNotices {
  readonly notices: readonly CompiledNotice[];
  readonly diagnostics: readonly Diagnostic[];
  readonly formulas: readonly PlacedFormula[];
}

export function compileNotices(notices: readonly Notice[], scope: Scope): CompiledNotices {
  const diagnostics: Diagnostic[] = [];
  const formulas: PlacedFormula[] = [];
  const compiled = notices.flatMap((notice, i): CompiledNotice[] => {
    const path = `/notify/${i}`;
    const to = createFormula(notice.to, scope);
    formulas.push({ path: `${path}/to`, at: 0, formula: to });
    diagnostics.push(...to.diagnostics.map((d) => ({ ...d, path: `${path}/to` })));
    const text = (part: 'subject' | 'body'): Compiled | undefined => {
      const template = createTemplate(notice[part], scope, true);
      template.formulas.forEach((formula, at) =>
        formulas.push({ path: `${path}/${part}`, at: template.at[at]!, formula }),
      );
      diagnostics.push(...template.diagnostics.map((d) => ({ ...d, path: `${path}/${part}` })));
      return template.evaluate;
    };
    const [subject, body] = [text('subject'), text('body')];
    if (notice.dueInDays !== undefined && !Number.isInteger(notice.dueInDays))
      diagnostics.push(diagnostic('notice.due', nowhere, {}, `${path}/dueInDays`));
    return to.evaluate && subject && body ? [{ notice, to: to.evaluate, subject, body }] : [];
  });
  return { notices: compiled, diagnostics, formulas };
}

/** One message for each address; two that differ only in case and spaces are one. */
export function makeNotifications(
  rule: string,
  notices: readonly CompiledNotice[],
  env: Environment,
  now: string,
): Notification[] {
  return notices.flatMap(({ notice, to, subject, body }) => {
    const given = to(env);
    const addresses = new Map<string, string>();
    for (const v of isList(given) ? given.flat() : [given]) {
      if (isBlank(v as Value)) continue;
      const address = valueToText(v as Value).trim();
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
      if (entry?.verdict === 'no effect') run.trace!.entries[r.at] = { ...entry, verdict: 'ran' };
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
