export { default as FindingList } from './FindingList.svelte';
export { default as FindingsArea } from './FindingsArea.svelte';
export { loadFindingList } from './later.ts';
