/** Of a whole record, the fields that a test of it is about. */
import type { TraceEntry, TypeProgram } from '@rigid-rule/core/compile';
import type { Rule, RuleTest } from '@rigid-rule/core/document';
import { idleVerdicts } from '@rigid-rule/core/rule-tests';

/**
 * Keys of the fields that `rule` and the rules that had to do with the write read and give, of those that are sent, held
 * or looked at, and of the record's title.
 */
export function fieldsThatMatter(
  test: RuleTest,
  type: TypeProgram,
  rule: Rule | undefined,
  trace: readonly TraceEntry[] = [],
): ReadonlySet<string> {
  const acted = new Set(trace.flatMap((t) => (idleVerdicts.has(t.verdict) ? [] : [t.rule])));
  const rules = type.rules.filter((r) => r.rule.key === rule?.key || acted.has(r.rule.key));
  const slots = rules.flatMap((r) => [...r.reads.present, ...r.reads.previous, ...r.wakes, ...r.writes]);
  const { fields = {}, states = {} } = test.expect;
  return new Set([
    ...type.recordType.title,
    ...slots.map((slot) => type.slots[slot]!.field.key),
    ...Object.keys({ ...fields, ...states, ...test.sent }),
    ...(test.before?.held ?? []),
  ]);
}
