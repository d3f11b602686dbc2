import { fileURLToPath } from 'node:url';
import { svelte } from '@sveltejs/vite-plugin-svelte';
import { defineConfig } from 'vitest/config';

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));
const alias = {
  '@rigid-rule/zones': at('./core/src/host/zones.ts'),
  '@rigid-rule/patterns': at('./core/src/host/patterns.ts'),
  '@rigid-rule/phone-numbers': at('./core/src/host/phone-numbers.ts'),
  '@rigid-rule/core': at('./core/src/index.ts'),
  '@rigid-rule/demo': at('./demo/src/index.ts'),
  $lib: at('./web/src/lib'),
};

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
      { resolve: { alias }, test: { name: 'core', include: ['core/src/**/*.test.ts'], ...shared } },
      { resolve: { alias }, test: { name: 'demo', include: ['demo/src/**/*.test.ts'], ...shared } },
      {
        // State classes are compiled as the browser has them.
        plugins: [svelte({ configFile: false })],
        resolve: { alias, conditions: ['browser'] },
        test: { name: 'web', include: ['web/src/**/*.test.ts'], exclude: ['**/*.db.test.ts'], ...shared },
      },
      {
        plugins: [svelte({ configFile: false })],
        resolve: { alias, conditions: ['browser'] },
        // The files share one throw-away database, which scripts/test.mjs starts.
        test: { name: 'database', include: ['web/src/**/*.db.test.ts'], fileParallelism: false, testTimeout: 60_000 },
      },
    ],
  },
});
