/** Random rule sets and writes, each settled: what is the same wherever the engine runs. */
import fc from 'fast-check';
import { compileProgram } from '../compile/index.ts';
import { canonicalJson } from '../document/index.ts';
import { settle } from '../settle/index.ts';
import { randomRulebook, randomWrite } from './random-rulebooks.ts';

/** Canonical JSON of `count` settlements; the same seed gives the same. */
export const settledSamples = (count: number, seed: number): string[] =>
  fc
    .sample(fc.tuple(randomRulebook, randomWrite), { numRuns: count, seed })
    .map(([rulebook, write]) => canonicalJson(settle(compileProgram(rulebook), write)));
