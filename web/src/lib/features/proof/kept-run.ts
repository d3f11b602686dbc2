/** The dry run that goes on while somebody looks at other areas: made when one is first asked for. */
import { getContext, setContext } from 'svelte';
import type { DryRun } from './dry-run.svelte.ts';

/** Holds the run of this page load, if there is one. */
export interface KeptRun {
  run?: DryRun;
}

const key = Symbol('kept dry run');
export const provideKeptRun = (): KeptRun => setContext<KeptRun>(key, {});
export const useKeptRun = (): KeptRun => getContext<KeptRun>(key);
