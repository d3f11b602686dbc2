import { spawn } from 'node:child_process';
import { root } from './paths.mjs';
import { giveUp } from './say.mjs';

const children = new Set();
let ending = false;

/** Starts a program in a process group of its own, so that it can be ended with all that it started. */
export function start(command, args, options = {}) {
  const child = spawn(command, args, { cwd: root, detached: true, stdio: 'inherit', ...options });
  children.add(child);
  child.once('exit', () => children.delete(child));
  child.once('error', () => children.delete(child));
  return child;
}

/** Runs a program to its end. Resolves with exit code and, when captured, its output. */
export function run(command, args, options = {}) {
  const { capture = false, ...rest } = options;
  return new Promise((done, fail) => {
    const child = start(command, args, capture ? { stdio: ['ignore', 'pipe', 'pipe'], ...rest } : rest);
    let output = '';
    for (const stream of [child.stdout, child.stderr]) stream?.on('data', (d) => (output += d));
    child.once('error', fail);
    child.once('exit', (code, signal) => done({ code: code ?? (signal ? 1 : 0), output }));
  });
}

/** The environment of what makes very many objects once: with room for new ones it takes up to a fifth less. */
export const roomy = () => ({
  ...process.env,
  NODE_OPTIONS: `${process.env.NODE_OPTIONS ?? ''} --max-semi-space-size=64`.trim(),
});

/** Runs a program that has to succeed; `otherwise` is the sentence for when it does not. */
export async function must(command, args, otherwise, options = {}) {
  const { code, output } = await run(command, args, { capture: true, ...options }).catch((e) => ({
    code: 1,
    output: e.message,
  }));
  if (code !== 0) giveUp(`${otherwise}\n${output.trim().split('\n').slice(-15).join('\n')}`);
  return output;
}

function signalGroup(child, signal) {
  try {
    process.kill(-child.pid, signal);
  } catch {
    // It ended in the meantime.
  }
}

/** Ends a child and all that it started; hard after `patience` milliseconds. */
export function end(child, patience = 8000) {
  if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
  return new Promise((done) => {
    const hard = setTimeout(() => signalGroup(child, 'SIGKILL'), patience);
    child.once('exit', () => {
      clearTimeout(hard);
      done();
    });
    signalGroup(child, 'SIGTERM');
  });
}

/** Runs `main`; whatever happens, `cleanUp` runs once and no child is left. */
export async function withCleanUp(main, cleanUp) {
  const finish = async (code) => {
    if (ending) return;
    ending = true;
    await cleanUp().catch((e) => console.error(e.message));
    await Promise.all([...children].map((c) => end(c)));
    process.exit(code);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
    process.on(signal, () => void finish(signal === 'SIGINT' ? 130 : 143));
  try {
    await finish(await main());
  } catch (e) {
    if (!ending) console.error(e.constructor.name === 'Stop' ? `\n${e.message}` : e);
    await finish(1);
  }
}
