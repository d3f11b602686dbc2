#!/usr/bin/env node
/** npm run check: types, lint, format, boundaries, dead code, share of tests. Says what failed, all of it. */
import { roomy, run, withCleanUp } from './lib/run.mjs';
import { step } from './lib/say.mjs';
import { leastShare, testShare } from './lib/test-share.mjs';

/** The longest first: at the end neither core waits for the other for long. */
const checks = [
  ['lint', 'npx', ['eslint', '--cache', '.']],
  ['types of the application', 'npm', ['run', '--silent', 'check:svelte', '-w', 'web']],
  ['format', 'npx', ['oxfmt', '--check']],
  [
    'boundaries',
    'npx',
    ['depcruise', '--config', '.dependency-cruiser.cjs', 'core/src', 'demo/src', 'web/src', 'web/server.mjs'],
  ],
  ['dead code', 'npx', ['knip', '--no-progress']],
  ['types of core', 'npx', ['tsc', '-p', 'core/tsconfig.json']],
  ['types of tests', 'npx', ['tsc', '-p', 'tsconfig.paths.json']],
  ['types of the demo', 'npx', ['tsc', '-p', 'demo/tsconfig.json']],
];

/** Two at a time: the machine has two cores. `lintTypes`: with the rules of lint that need types, which take long. */
export async function runChecks({ lintTypes }) {
  const env = { ...roomy(), LINT_TYPES: lintTypes ? 'on' : 'off' };
  const waiting = [...checks];
  const failed = [];
  const work = async () => {
    for (let next = waiting.shift(); next; next = waiting.shift()) {
      const [name, command, args] = next;
      const { code, output } = await run(command, args, { capture: true, env });
      step(`${code === 0 ? 'holds ' : 'FAILS '} ${name}`);
      if (code === 0) continue;
      failed.push(`${name}\n${output.trim()}`);
      console.log(output.trim());
    }
  };
  await Promise.all([work(), work()]);
  const { tests, code, share } = testShare();
  const told = `tests are ${(share * 100).toFixed(1)} % of the code (${tests} lines, ${code} of what they test)`;
  step(`${share < leastShare ? 'FAILS ' : 'holds '} ${told}`);
  if (share < leastShare) failed.push(`share of tests\n${told}; at least ${leastShare * 100} % is wanted`);
  return { passed: checks.length + 1 - failed.length, failed: failed.length, failures: failed };
}

if (process.argv[1]?.endsWith('check.mjs')) {
  await withCleanUp(
    async () => ((await runChecks({ lintTypes: true })).failed === 0 ? 0 : 1),
    async () => {},
  );
}
