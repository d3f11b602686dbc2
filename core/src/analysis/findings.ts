/** The registry of findings: adding one is one descriptor and one line here. */
import type { Program } from '../compile/compiled.ts';
import { partId } from '../document/parts.ts';
import { compileFindings } from './compile-findings.ts';
import * as fields from './field-findings.ts';
import type { Finding, FindingContext, FindingKind } from './finding.ts';
import { listNameTwice } from './name-findings.ts';
import * as tables from './table-findings.ts';
import * as targets from './target-findings.ts';
import * as waking from './waking-findings.ts';

export const findingKinds: readonly FindingKind[] = [
  compileFindings,
  listNameTwice,
  fields.requiredAndShut,
  tables.keyTwice,
  targets.twoRules,
  targets.differentWinners,
  targets.noWinner,
  targets.entryPointHole,
  targets.growsEachWrite,
  targets.fixedRecord,
  waking.circle,
  waking.neverWakes,
  waking.conditionDecides,
  waking.bandNeverReached,
  waking.blankKeptAway,
  waking.previousOfNew,
  tables.rowNeverReached,
  tables.optionWithoutRow,
  tables.keyWithoutRow,
  waking.standInValue,
  fields.matchNotUnique,
  fields.lookAlike,
  fields.unusedTable,
  fields.unusedColumn,
  fields.unusedField,
  fields.unusedOption,
  fields.noPurpose,
  fields.notTested,
];

/** All findings of a program, by severity, then in the order of the registry; accepted ones carry their reason. */
export function findingsOf(program: Program, context: FindingContext = {}): Finding[] {
  const reasons = new Map((program.rulebook.accepted ?? []).map((a) => [a.finding, a.reason]));
  const found = findingKinds.flatMap((kind) =>
    [...kind.find(program, context)].map(({ also, severity, ...f }): Finding => {
      // Rows move; what they hold names them.
      const path = f.path?.startsWith('/rows/') ? undefined : f.path;
      const key = [kind.key, partId(f.part), path, also].filter((k) => k !== undefined).join(' ');
      const accepted = reasons.get(key);
      return {
        key,
        kind: kind.key,
        severity: severity ?? kind.severity,
        ...f,
        ...(accepted === undefined ? {} : { accepted }),
      };
    }),
  );
  const rank = { error: 0, warning: 1, info: 2 };
  return found.sort((a, b) => rank[a.severity] - rank[b.severity]);
}
