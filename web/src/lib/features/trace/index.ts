export { default as Why } from './Why.svelte';
export { causeWords, verdictWords } from './words.ts';
