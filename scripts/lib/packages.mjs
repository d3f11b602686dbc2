import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { must, roomy } from './run.mjs';
import { root } from './paths.mjs';
import { giveUp, step } from './say.mjs';

export const isRoot = () => process.getuid?.() === 0;

/** Installs Debian packages, or says who has to. */
export async function aptInstall(packages, purpose) {
  const command = `apt-get install -y ${packages.join(' ')}`;
  if (!isRoot()) giveUp(`${purpose} is missing. Ask an administrator to run:  sudo ${command}`);
  if (!existsSync('/usr/bin/apt-get'))
    giveUp(`${purpose} is missing, and this is not Debian. Install it and start again.`);
  step(`Installing ${packages.join(', ')} ...`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  await must('apt-get', ['update', '-qq'], 'apt-get update failed.', { env });
  await must('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...packages], `${command} failed.`, {
    env,
  });
}

/** Installs the npm packages of the lock file, unless they are there. */
export async function npmPackages() {
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  const stamp = join(root, 'node_modules/.rigid-rule-lock');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  step('Installing npm packages ...');
  await must('npm', ['ci', '--no-audit', '--no-fund'], 'npm ci failed.');
  writeFileSync(stamp, lock);
}

const sources = [
  'core/src',
  'core/tsconfig.build.json',
  'demo/src',
  'web/src',
  'web/static',
  'web/svelte.config.js',
  'web/vite.config.ts',
  'web/vite.admin.config.ts',
  'package-lock.json',
  'tsconfig.base.json',
];

function* filesUnder(path) {
  if (!existsSync(path)) return;
  if (!statSync(path).isDirectory()) return void (yield path);
  for (const name of readdirSync(path).sort()) yield* filesUnder(join(path, name));
}

function sourceDigest() {
  const hash = createHash('sha256');
  for (const source of sources)
    for (const file of filesUnder(join(root, source))) hash.update(file).update('\0').update(readFileSync(file));
  return hash.digest('hex');
}

/**
 * Builds the application when a source has changed since the last build. `core`: whether core is built as well; not where
 * somebody runs what is built of it meanwhile.
 */
export async function build({ core = true } = {}) {
  const digest = sourceDigest();
  const stamp = join(root, 'web/build/.sources');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === digest) return;
  step('Building ...');
  const env = roomy();
  if (core) await must('npm', ['run', '--silent', 'build:core'], 'The build of core failed.', { env });
  await must('npm', ['run', '--silent', 'build', '-w', 'web'], 'The build failed.', { env });
  mkdirSync(join(root, 'web/build'), { recursive: true });
  writeFileSync(stamp, digest);
}
