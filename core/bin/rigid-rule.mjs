#!/usr/bin/env node
import { command } from './command.mjs';

const core = await import('../dist/command/index.js').catch((e) => {
  if (e.code !== 'ERR_MODULE_NOT_FOUND') throw e;
  console.error('The command is not built yet: run npm run build:core once.');
  process.exit(2);
});

// Whoever reads the answer may have read enough, such as `head`.
process.stdout.on('error', (e) => {
  if (e.code !== 'EPIPE') throw e;
  process.exit(0);
});
process.exitCode = await command(core, process.argv.slice(2), process);
