export { default as Why } from './Why.svelte';
export { causeWords, verdictWord } from './words.ts';
