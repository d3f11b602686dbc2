/**
 * Analyses kept in the browser by what they are of: the same rulebook under the same build gives the same again. So a page
 * that opens with a draft that was looked through before neither loads what that takes nor works it out again.
 */
import { keptAnswers } from '../browser-storage.ts';
import { canonicalJson, type Rulebook } from '@rigid-rule/core/document';
import type { Analysis } from './analysis.ts';

const cacheName = 'rigid-rule-analyses';
/** The oldest makes room. */
const mostKept = 8;

export interface AnalysisMemory {
  /** undefined where it is not known, or cannot be. */
  find(rulebook: Rulebook): Promise<Analysis | undefined>;
  /** Does nothing where the browser keeps nothing: that costs time, and never an answer. */
  keep(rulebook: Rulebook, analysis: Analysis): Promise<void>;
}

/**
 * @param build What else an analysis hangs on: the code that makes it.
 * @param storage Where browsers keep answers; absent in pages that did not come over a secure connection.
 */
export function analysisMemory(build: string, storage = keptAnswers()): AnalysisMemory {
  const cache = async () => storage?.open(cacheName);
  const address = async (rulebook: Rulebook): Promise<string> => {
    const told = new TextEncoder().encode(`${build}\n${canonicalJson(rulebook)}`);
    // Where there is no such thing there is no storage either.
    // eslint-disable-next-line no-restricted-properties
    const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', told));
    return `/${[...digest].map((byte) => byte.toString(16).padStart(2, '0')).join('')}`;
  };
  return {
    async find(rulebook) {
      try {
        const kept = await (await cache())?.match(await address(rulebook));
        return kept && ((await kept.json()) as Analysis);
      } catch {
        return undefined;
      }
    },
    async keep(rulebook, analysis) {
      try {
        const into = await cache();
        if (!into) return;
        await into.put(await address(rulebook), new Response(JSON.stringify(analysis)));
        const keys = await into.keys();
        await Promise.all(keys.slice(0, Math.max(0, keys.length - mostKept)).map((key) => into.delete(key)));
      } catch {
        // A full disk, a private window: nothing is kept.
      }
    },
  };
}

/** For who leaves this browser to others. */
export async function forgetAnalyses(storage = keptAnswers()): Promise<void> {
  await storage?.delete(cacheName).catch(() => false);
}
