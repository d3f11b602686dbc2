export { default as ConditionEditor } from './ConditionEditor.svelte';
export { default as FormulaInput } from './FormulaInput.svelte';
