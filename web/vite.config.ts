import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defaultClientConditions, defaultServerConditions, defineConfig } from 'vite';
import { decimalInUse } from './bundling/decimal-in-use.ts';
import { firstExample } from './bundling/first-example.ts';
import { sharedFiles } from './bundling/shared-files.ts';
import { svelteInUse } from './bundling/svelte-in-use.ts';
import { synchronousRequest } from './bundling/synchronous-request.ts';

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
  ssr: { resolve: { conditions: ['rigid-rule-source', ...defaultServerConditions] } },
});
