import { getContext, setContext } from 'svelte';
import type { Draft } from './draft.svelte.ts';

export interface DraftUser {
  readonly email: string;
  readonly name: string;
  /** What rules can ask of who writes. */
  readonly role: string;
}

export interface DraftContext {
  readonly draft: Draft;
  readonly users: readonly DraftUser[];
}

const key = Symbol('draft');
export const provideDraft = (context: DraftContext): DraftContext => setContext(key, context);
/** The draft that the areas around a component work on. */
export const useDraft = (): DraftContext => getContext<DraftContext>(key);
