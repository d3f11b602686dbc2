/** How much of the code are tests, by lines. */
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './paths.mjs';

/** Below it something was written without its tests. */
export const leastShare = 0.24;

const isCode = (path) => /\.(ts|svelte|mjs|js|css|sql)$/.test(path) && !/unicode-case-data|package-lock/.test(path);
const isTest = (path) => /\.(test|spec)\.ts$|^e2e\/|\/testing\//.test(path);

/** Lines of tests and of all other code; the tests as a share of both. */
export function testShare() {
  const files = execFileSync('git', ['ls-files', '--cached', '--others', '--exclude-standard'], {
    cwd: root,
    encoding: 'utf8',
  });
  const lines = { tests: 0, code: 0 };
  for (const path of files.split('\n').filter(isCode)) {
    let text;
    try {
      text = readFileSync(join(root, path), 'utf8');
    } catch {
      continue; // gone, and not yet committed as gone
    }
    lines[isTest(path) ? 'tests' : 'code'] += text.split('\n').length - 1;
  }
  return { ...lines, share: lines.tests / (lines.tests + lines.code) };
}
