#!/usr/bin/env node
/**
 * npm run bench [-- server [part] | large | proof]: the engine against other engines, the running server against its
 * database, what very large rulebooks cost, or what it takes to be sure of a rulebook.
 */
import { spawnSync } from 'node:child_process';

if (process.argv[2] === 'server') await import('./server.mjs');
else {
  const { status } = spawnSync('npm', ['run', '--silent', 'build:core'], { stdio: 'inherit' });
  if (status !== 0) process.exit(status ?? 1);
  if (process.argv[2] === 'large') await import('./large.mjs');
  else if (process.argv[2] === 'proof') await import('./proof.mjs');
  else await import('./run.mjs');
}
