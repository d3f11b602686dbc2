export { default as FormulaInput } from './FormulaInput.svelte';
export { loadConditionEditor } from './later.ts';
