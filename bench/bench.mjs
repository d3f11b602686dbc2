#!/usr/bin/env node
/**
 * npm run bench [-- engine | FORMULAS | server [part] | large | proof]: the engine against other engines, the running
 * server against its database, what very large rulebooks cost, or what it takes to be sure of a rulebook.
 */
import { spawnSync } from 'node:child_process';
import { asked } from './asked.mjs';

// The server is built whole by its own bench.
if (asked.bench !== 'server') {
  const { status } = spawnSync('npm', ['run', '--silent', 'build:core'], { stdio: 'inherit' });
  if (status !== 0) process.exit(status ?? 1);
}
const benches = {
  engine: () => import('./engine.mjs'),
  server: () => import('./server.mjs'),
  large: () => import('./large.mjs'),
  proof: () => import('./proof.mjs'),
};
await benches[asked.bench]();
