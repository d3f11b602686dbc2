#!/usr/bin/env node
/**
 * npm run licences: every package that ships, with its licence, and a failure on one that is copyleft or unknown. What
 * ships is what `npm ci --omit=dev` installs and what the build bundles; tools of development do not ship.
 */
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './lib/paths.mjs';

/** Licences (SPDX) that ask for no more than that their notice is kept. */
const permissive = new Set([
  'MIT',
  'MIT-0',
  'ISC',
  'BSD-2-Clause',
  'BSD-3-Clause',
  '0BSD',
  'Apache-2.0',
  'Unlicense',
  'CC0-1.0',
  'BlueOak-1.0.0',
  'Python-2.0',
  'OFL-1.1', // fonts: may ship with software, are not sold by themselves
]);
/** Bundled into the pages although they are listed as tools. */
const bundled = ['@internationalized/date', 'svelte', '@sveltejs/kit', 'devalue', 'esm-env', 'clsx'];

/** Used while building and never after: nothing of them is in what ships. */
const builders = /^lightningcss/;

/** An expression of SPDX: with OR one has to be permissive, with AND all. */
export function isPermissive(expression) {
  const bare = expression.replace(/[()]/g, ' ').trim();
  if (/\sOR\s/.test(bare)) return bare.split(/\sOR\s/).some(isPermissive);
  if (/\sAND\s/.test(bare)) return bare.split(/\sAND\s/).every(isPermissive);
  return permissive.has(bare.trim());
}

/** Names and places of the packages that ship. */
function shipped() {
  const lock = JSON.parse(readFileSync(join(root, 'package-lock.json'), 'utf8')).packages;
  return Object.entries(lock)
    .filter(([path, p]) => path.includes('node_modules/') && !p.link)
    .filter(([path, p]) => (!p.dev && !p.devOptional) || bundled.includes(path.split('node_modules/').at(-1)))
    .map(([path, p]) => ({ name: path.split('node_modules/').at(-1), version: p.version, path, optional: p.optional }));
}

function licenceOf({ path }) {
  const file = join(root, path, 'package.json');
  if (!existsSync(file)) return undefined;
  const { license, licenses } = JSON.parse(readFileSync(file, 'utf8'));
  if (typeof license === 'string') return license;
  if (license?.type) return license.type;
  return licenses?.map((l) => l.type).join(' OR ') ?? byText(join(root, path));
}

/** Of a package that does not name its licence but has its text. */
function byText(folder) {
  const file = readdirSync(folder).find((f) => /^licen[cs]e/i.test(f));
  const text = file ? readFileSync(join(folder, file), 'utf8') : '';
  return text.includes('Permission is hereby granted, free of charge') ? 'MIT' : undefined;
}

export function main() {
  const rows = shipped()
    // Builds for other machines are not installed here and have the licence of their package.
    .filter((p) => !builders.test(p.name) && (existsSync(join(root, p.path)) || !p.optional))
    .map((p) => ({ ...p, licence: licenceOf(p) ?? 'unknown' }))
    .sort((a, b) => (a.licence + a.name < b.licence + b.name ? -1 : 1));
  for (const { licence, name, version } of rows) console.log(`${licence.padEnd(28)} ${name} ${version}`);
  const wrong = rows.filter((r) => !isPermissive(r.licence));
  const counts = Object.entries(Object.groupBy?.(rows, (r) => r.licence) ?? {}).map(([l, r]) => `${r.length} ${l}`);
  console.log(`\n${rows.length} packages ship${counts.length > 0 ? `: ${counts.join(', ')}` : ''}.`);
  for (const r of wrong) console.error(`NOT PERMISSIVE: ${r.name} ${r.version}, ${r.licence}`);
  return wrong.length === 0 ? 0 : 1;
}

if (process.argv[1]?.endsWith('licences.mjs')) process.exitCode = main();
