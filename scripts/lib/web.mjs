import { join } from 'node:path';
import { root } from './paths.mjs';
import { start } from './run.mjs';
import { giveUp } from './say.mjs';

/**
 * What a large rulebook took while it was read and compiled is given back: without this the C library keeps it in heaps of
 * its own for each thread.
 */
const memory = { MALLOC_ARENA_MAX: '2', MALLOC_TRIM_THRESHOLD_: String(16 * 1024 * 1024) };

/** Starts the built application; resolves when it listens. It ends by itself when this process is killed. */
export function startWeb(env) {
  return new Promise((done, fail) => {
    const child = start(
      process.execPath,
      [...(process.env.NODE_ARGS ?? '').split(' ').filter(Boolean), join(root, 'web/server.mjs')],
      {
        cwd: join(root, 'web'),
        env: { ...memory, ...process.env, NODE_ENV: 'production', ...env },
        stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
      },
    );
    child.once('message', () => {
      child.off('exit', failed);
      done(child);
    });
    child.once('exit', failed);
    function failed(code) {
      try {
        giveUp(`The web server ended before it listened (exit ${code}).`);
      } catch (e) {
        fail(e);
      }
    }
  });
}
