/** Whether a draft may go live: no error among its findings, and tests that hold or a written reason. */
import { compileProgram } from '../compile/program.ts';
import type { Host } from '../language/types/host.ts';
import { reachedBy, runTests } from './run.ts';
import type { Rulebook } from '../document/document.ts';
import type { Finding } from '../analysis/finding.ts';
import { findingsOf } from '../analysis/findings.ts';

export interface Readiness {
  /** What has to be put right first; a mistake that keeps a part from compiling cannot be accepted away. */
  readonly blocking: readonly Finding[];
  /** Other findings that nobody has accepted. */
  readonly open: number;
  readonly tests: number;
  readonly failing: readonly { readonly name: string; readonly failures: readonly string[] }[];
}

/** Compiles, looks through and tests the whole: for a large draft this takes seconds. */
export function readinessOf(rulebook: Rulebook, host: Host): Readiness {
  const program = compileProgram(rulebook, host);
  const results = runTests(program, rulebook.tests ?? []);
  const findings = findingsOf(program, { reached: reachedBy(results) });
  const isOpen = (f: Finding) => f.accepted === undefined || f.kind === 'does-not-compile';
  return {
    blocking: findings.filter((f) => f.severity === 'error' && isOpen(f)),
    open: findings.filter((f) => f.severity !== 'error' && f.accepted === undefined).length,
    tests: results.length,
    failing: results.flatMap((r) => (r.failures.length > 0 ? [{ name: r.test.name, failures: r.failures }] : [])),
  };
}
