import { createHash } from 'node:crypto';
import { canonicalJson, type Rulebook } from '@rigid-rule/core/document';
import { targetsOf } from '@rigid-rule/core/compile';

/** SHA-256 of the rules that write a field, with their tables: an agreement on it holds for just these. */
export function coveredRules(rulebook: Rulebook, recordType: string, field: string): string {
  const rules = rulebook.rules.filter((r) => r.recordType === recordType && targetsOf(r).includes(field));
  const text = JSON.stringify(rules.map((r) => r.outcome));
  const tables = (rulebook.tables ?? []).filter((t) => text.includes(`"${t.key}"`));
  return createHash('sha256')
    .update(canonicalJson([rules, tables]))
    .digest('hex');
}
