/** Looks through a rulebook as a whole and runs its tests, apart from the page: a large one takes longer than a frame. */
import type { Rulebook } from '@rigid-rule/core/document';
import { hostOf } from '../host-loading.ts';
import { analysisMemory } from './analysis-memory.ts';
import type { Analysing, Analysis } from './analysis.ts';
import { RulebookMirror, type RulebookChange } from './rulebook-feed.ts';

export interface FindingsRequest {
  readonly id: number;
  readonly change: RulebookChange;
}

export interface FindingsAnswer extends Analysis {
  readonly id: number;
}

const mirror = new RulebookMirror();
// The name of this file holds a digest of what it loads; the browser brings the tables of time zones.
const memory = import.meta.env.DEV ? undefined : analysisMemory(`${location.href} ${navigator.userAgent}`);
let analysing: Analysing | undefined;
let latest = 0;
/** Milliseconds until the host is asked for again where the network was away; until then the last answer stands. */
const patience = 3000;
/** Milliseconds that a rulebook stays as it is before its analysis is kept: not each letter that is typed. */
const settled = 2000;
let isFirst = true;

const tell = (id: number, analysis: Analysis) => postMessage({ ...analysis, id } satisfies FindingsAnswer);

async function answer(id: number, rulebook: Rulebook): Promise<void> {
  latest = id;
  // Once it is loaded, working it out is as quick as looking it up.
  const known = analysing ? undefined : await memory?.find(rulebook);
  if (id !== latest) return;
  if (known) return tell(id, known);
  const at = await load();
  const host = await hostOf(rulebook).catch(() => undefined);
  if (id !== latest) return;
  if (!host) {
    setTimeout(() => id === latest && void answer(id, rulebook), patience);
    return;
  }
  const analysis = at.analyse(rulebook, host);
  tell(id, analysis);
  setTimeout(() => id === latest && void memory?.keep(rulebook, analysis), isFirst ? 0 : settled);
  isFirst = false;
}

async function load(): Promise<Analysing> {
  const { Analysing: Loaded } = await import('./analysis.ts');
  return (analysing ??= new Loaded());
}

addEventListener('message', ({ data }: MessageEvent<FindingsRequest>) => {
  answer(data.id, mirror.take(data.change)).catch((e: unknown) => {
    // Told to the page as an error of this worker: it begins a new one. A rejection would be heard by nobody.
    setTimeout(() => {
      throw e;
    });
  });
});
