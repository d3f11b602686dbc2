/** Findings: what others may use. */
export type { Edit, Finding, Repair } from './finding.ts';
export { findingKinds, findingsOf } from './findings.ts';
