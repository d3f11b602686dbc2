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

export default defineConfig({
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
  // What is installed to run is asked for as it runs; what only builds is taken along.
  ssr: {
    resolve: { conditions: ['rigid-rule-source', ...defaultServerConditions] },
    noExternal: [new RegExp(`^(?!(?:${installed.join('|')})(?:/|$))`)],
  },
});
