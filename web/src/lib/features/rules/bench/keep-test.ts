/** A try on the bench, kept as a test: record, change, moment, entry point, clock, and what came out. */
import { testedId, type Expectation, type RecordData, type RuleTest, type Rule } from '@rigid-rule/core';
import type { Beside, Bench } from './bench.svelte.ts';

const acted = new Set(['ran', 'no effect', 'stops']);

export function testOf(bench: Bench, rule: Rule | undefined, key: string): RuleTest {
  const { write } = bench;
  const { settlement, read } = bench.readAlong();
  const verdict = settlement.trace.find((t) => t.rule === rule?.key)?.verdict;
  const byRules = settlement.changes.filter((c) => c.author.by === 'rule');
  const stops = settlement.messages.map((m) => m.text);
  const expect: Expectation = {
    ...(byRules.length > 0 ? { fields: Object.fromEntries(byRules.map((c) => [c.field, c.to])) } : {}),
    ...(stops.length > 0 ? { messages: stops } : {}),
    ...(settlement.notifications.length > 0 ? { notified: settlement.notifications.map((n) => n.to) } : {}),
    ...(rule && verdict ? (acted.has(verdict) ? { ran: [rule.key] } : { didNotRun: [rule.key] }) : {}),
    verdict: settlement.verdict,
  };
  return {
    key,
    name: nameOf(bench, rule, verdict !== undefined && acted.has(verdict)),
    recordType: bench.typeKey,
    before: write.before && {
      data: write.before.data,
      ...(write.before.held.length > 0 ? { held: write.before.held } : {}),
    },
    ...related(bench, read),
    sent: write.sent,
    typed: write.typed,
    moment: write.moment,
    entryPoint: write.entryPoint,
    now: write.now,
    ...(write.user ? { user: write.user } : {}),
    ...(write.woken ? { woken: write.woken } : {}),
    ...(write.origin ? { origin: { recordType: write.origin.recordType, data: write.origin.data } } : {}),
    expect,
  };
}

/** The records that were read are copied; what links to the record on the bench links to the one under test. */
function related(bench: Bench, read: readonly Beside[]): Pick<RuleTest, 'related'> {
  const own = bench.write.id;
  const copies = read.flatMap(({ recordType, id, data }) => {
    if (recordType === bench.typeKey && id === own) return [];
    const links = bench.program.types.get(recordType)?.recordType.fields.filter((f) => f.recordType === bench.typeKey);
    const named: RecordData = Object.fromEntries(
      Object.entries(data).map(([k, v]) => [k, v === own && links?.some((f) => f.key === k) ? testedId : v]),
    );
    return [{ key: id, recordType, data: named }];
  });
  return copies.length > 0 ? { related: copies } : {};
}

function nameOf(bench: Bench, rule: Rule | undefined, ran: boolean): string {
  const changed = bench.tried.flatMap(({ key }) => {
    const field = bench.recordType.fields.find((f) => f.key === key);
    const shown = bench.settlement.data[key] ?? null;
    return field ? `${field.name} ${shown === null ? 'blank' : String(shown)}` : [];
  });
  const what = changed.length > 0 ? changed.slice(0, 3).join(', ') : 'nothing changed';
  return `${what}${rule ? `: ${rule.name} ${ran ? 'acts' : 'does not act'}` : ''}`;
}
