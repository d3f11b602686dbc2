/** The engine in the browser is the engine on the server: the same inputs settle to the same bytes. */
import { mkdirSync, writeFileSync } from 'node:fs';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { build } from 'vite';
import type { settledSamples } from '../core/src/testing/settled-samples.ts';
import { expect, test } from './support/installation.ts';

interface Settling {
  readonly settledSamples: typeof settledSamples;
}

/** One text for both: the runner of the tests would compile each module of the core by itself, which takes longer. */
async function bundled(): Promise<string> {
  const entry = fileURLToPath(new URL('../core/src/testing/settled-samples.ts', import.meta.url));
  const bundle = await build({
    configFile: false,
    logLevel: 'error',
    build: { write: false, minify: false, lib: { entry, formats: ['es'] } },
  });
  const [{ output }] = bundle as unknown as [{ output: [{ code: string }] }];
  return output[0].code;
}

test('300 random rule sets and writes', async ({ page }, info) => {
  const code = await bundled();
  const file = info.outputPath('settling.mjs');
  mkdirSync(info.outputDir, { recursive: true });
  writeFileSync(file, code);
  const { settledSamples: here } = (await import(pathToFileURL(file).href)) as Settling;
  const there = await page.evaluate(async (code) => {
    const address = URL.createObjectURL(new Blob([code], { type: 'text/javascript' }));
    const { settledSamples } = (await import(address)) as Settling;
    return settledSamples(300, 2003);
  }, code);
  expect(there).toHaveLength(300);
  expect(there).toEqual(here(300, 2003));
});
