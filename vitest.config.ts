import { fileURLToPath } from 'node:url';
import { svelte } from '@sveltejs/vite-plugin-svelte';
import { defaultServerConditions } from 'vite';
import { defineConfig } from 'vitest/config';

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));
const alias = { $lib: at('./web/src/lib') };
/** Packages of this repository are taken from their sources. */
const conditions = ['rigid-rule-source'];
const ssr = { resolve: { conditions: ['rigid-rule-source', ...defaultServerConditions] } };

/** What is pure is loaded once for all files of a worker: nothing in it is left changed by a test. */
const shared = { pool: 'threads', isolate: false, testTimeout: 60_000 } as const;

export default defineConfig({
  test: {
    maxWorkers: 2,
    coverage: {
      provider: 'v8',
      include: ['core/src/**/*.ts'],
      exclude: ['**/*.test.ts', 'core/src/testing/**', '**/*.d.ts'],
      reporter: ['text-summary', 'json-summary'],
      reportsDirectory: 'test-results/coverage',
    },
    projects: [
      { resolve: { alias, conditions }, ssr, test: { name: 'core', include: ['core/src/**/*.test.ts'], ...shared } },
      {
        // The long calculations of the demo's tests run by the core as it is built, a quarter faster; coverage is of its sources.
        ...(process.argv.includes('--coverage') ? { resolve: { alias, conditions }, ssr } : {}),
        test: {
          name: 'demo',
          include: ['demo/src/**/*.test.ts'],
          server: { deps: { external: [/core\/dist/] } },
          ...shared,
        },
      },
      {
        plugins: [svelte({ configFile: false })],
        resolve: { alias, conditions: ['rigid-rule-source', 'browser'] },
        test: {
          name: 'web',
          // State classes are compiled as the browser has them.
          environment: at('./web/test-environment.mjs'),
          setupFiles: [at('./web/test-timers.ts')],
          include: ['web/{src,bundling}/**/*.test.ts'],
          exclude: ['**/*.db.test.ts'],
          ...shared,
        },
      },
      {
        plugins: [svelte({ configFile: false })],
        resolve: { alias, conditions: ['rigid-rule-source', 'browser'] },
        ssr,
        // The files share one throw-away database, which scripts/test.mjs starts, and no modules: what a test left running in
        // the background ends with its file.
        test: { name: 'database', include: ['web/src/**/*.db.test.ts'], fileParallelism: false, testTimeout: 60_000 },
      },
    ],
  },
});
