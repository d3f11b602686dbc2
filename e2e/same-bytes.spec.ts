/** The engine in the browser is the engine on the server: the same inputs settle to the same bytes. */
import { fileURLToPath } from 'node:url';
import fc from 'fast-check';
import { build } from 'vite';
import { canonicalJson, compileProgram, settle, type Rulebook, type Write } from '../core/src/testing/settling.ts';
import { randomRulebook, randomWrite } from '../core/src/testing/random-rulebooks.ts';
import { expect, test } from './support/installation.ts';

interface Core {
  canonicalJson: typeof canonicalJson;
  compileProgram: typeof compileProgram;
  settle: typeof settle;
}

const answers = (inputs: readonly (readonly [Rulebook, Write])[], core: Core): string[] =>
  inputs.map(([rulebook, write]) => core.canonicalJson(core.settle(core.compileProgram(rulebook), write)));

test('300 random rule sets and writes', async ({ page }) => {
  const bundle = await build({
    configFile: false,
    logLevel: 'error',
    build: {
      write: false,
      minify: false,
      lib: {
        entry: fileURLToPath(new URL('../core/src/testing/settling.ts', import.meta.url)),
        formats: ['iife'],
        name: 'RigidRule',
      },
    },
  });
  const [{ output }] = bundle as unknown as [{ output: [{ code: string }] }];
  await page.addScriptTag({ content: `${output[0].code};globalThis.RigidRule=RigidRule` });
  const inputs = fc.sample(fc.tuple(randomRulebook, randomWrite), { numRuns: 300, seed: 2003 });
  const there = await page.evaluate(`(${answers.toString()})(${JSON.stringify(inputs)}, RigidRule)`);
  expect(there).toEqual(answers(inputs, { canonicalJson, compileProgram, settle }));
});
