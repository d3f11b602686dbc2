/** The sheet of a rule is there before the editor of its condition. */
export const loadConditionEditor = () => import('./ConditionEditor.svelte');
