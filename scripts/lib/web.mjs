import { join } from 'node:path';
import { root } from './paths.mjs';
import { start } from './run.mjs';
import { giveUp } from './say.mjs';

/** Starts the built application; resolves when it listens. It ends by itself when this process is killed. */
export function startWeb(env) {
  return new Promise((done, fail) => {
    const child = start(
      process.execPath,
      [...(process.env.NODE_ARGS?.split(' ') ?? []), join(root, 'web/server.mjs')],
      {
        cwd: join(root, 'web'),
        env: { ...process.env, NODE_ENV: 'production', ...env },
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
