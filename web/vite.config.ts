import { readFileSync } from 'node:fs';
import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defaultClientConditions, defaultServerConditions, defineConfig } from 'vite';
import { decimalInUse } from './bundling/decimal-in-use.ts';
import { firstExample } from './bundling/first-example.ts';
import { sharedFiles } from './bundling/shared-files.ts';
import { svelteInUse } from './bundling/svelte-in-use.ts';
import { synchronousRequest } from './bundling/synchronous-request.ts';

const installed = ['web', 'core', 'demo'].flatMap((workspace) => {
  const file = new URL(`../${workspace}/package.json`, import.meta.url);
  const { dependencies = {} } = JSON.parse(readFileSync(file, 'utf8')) as { dependencies?: Record<string, string> };
  return Object.keys(dependencies).filter((name) => !name.startsWith('@rigid-rule/'));
});

export default defineConfig(({ command }) => ({
  plugins: [
    tailwindcss(),
    sveltekit(),
    sharedFiles(),
    decimalInUse(),
    firstExample(),
    svelteInUse(),
    synchronousRequest(),
  ],
  build: { target: 'es2022' },
  worker: { format: 'es' },
  // Packages of this repository are taken from their sources.
  resolve: { conditions: ['rigid-rule-source', ...defaultClientConditions] },
  // The build asks for what is installed to run as it runs, and takes along what only builds.
  ssr: {
    resolve: { conditions: ['rigid-rule-source', ...defaultServerConditions] },
    noExternal: command === 'build' ? [new RegExp(`^(?!(?:${installed.join('|')})(?:/|$))`)] : [],
  },
}));
