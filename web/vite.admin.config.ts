import { defaultServerConditions, defineConfig } from 'vite';

/** The operator's command, from the same modules as the application. */
export default defineConfig({
  publicDir: false,
  ssr: { resolve: { conditions: ['rigid-rule-source', ...defaultServerConditions] } },
  build: { ssr: 'src/lib/server/admin/main.ts', outDir: 'build/admin', emptyOutDir: true, target: 'es2022' },
});
