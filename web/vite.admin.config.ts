import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));

/** The operator's command, from the same modules as the application. */
export default defineConfig({
  publicDir: false,
  resolve: { alias: { '@rigid-rule/core': at('../core/src/index.ts') } },
  build: { ssr: 'src/lib/server/admin/main.ts', outDir: 'build/admin', emptyOutDir: true, target: 'es2022' },
});
