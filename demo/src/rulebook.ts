import type { MappingTable, Rule, Rulebook, RuleTest } from '@rigid-rule/core/document';
import { recordTypes } from './fields.ts';
import { draftRules, releasedRules, sizeClass } from './rules.ts';
import { draftTables, releasedTables } from './tables.ts';
import { claims } from './claims.ts';
import { confirmedTests } from './confirmed-tests.ts';
import { tests } from './tests.ts';

const rulebookWith = (
  rules: readonly Rule[],
  tables: readonly MappingTable[],
  kept: readonly RuleTest[],
): Rulebook => ({
  format: 'rigid-rule/1',
  name: 'Quillhaven Orchard Systems',
  zone: 'Europe/Lisbon',
  currency: 'EUR',
  userRecordType: 'contact',
  recordTypes,
  rules,
  tables,
  tests: kept,
  claims,
});

/** Tests of what only the draft has came with it. */
const isOfRelease = ({ expect: { ran = [], didNotRun = [] } }: RuleTest): boolean =>
  [...ran, ...didNotRun].every((key) => [...releasedRules, sizeClass(200)].some((r) => r.key === key));

/** In the first release 249 employees were Large already. */
const underFormerLimit = (test: RuleTest): RuleTest => {
  const cases = test.family?.cases;
  if (!cases?.sent.includes('employee_count')) return test;
  return { ...test, family: { cases: { ...cases, rows: cases.rows.filter(([heads]) => heads !== 249) } } };
};

/** What is live when the demo starts: Large from 200, a limit of the firm's own. */
export const firstRelease: Rulebook = rulebookWith(
  [sizeClass(200), ...releasedRules],
  releasedTables,
  [...tests, ...confirmedTests].filter(isOfRelease).map(underFormerLimit),
);
export const firstReleaseNote =
  'Size classes, regions, titles and the rest of the first season. Large from 200 employees.';

/** What the author is working on: the European limit, Large from 250, and three faults for Findings to show. */
export const draft: Rulebook = rulebookWith([sizeClass(250), ...draftRules], draftTables, [
  ...tests,
  ...confirmedTests,
]);
