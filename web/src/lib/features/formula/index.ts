export { default as FormulaInput } from './FormulaInput.svelte';
