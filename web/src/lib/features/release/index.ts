export { Comparison } from './comparison.ts';
export { default as Timeline } from './Timeline.svelte';
export { default as Impact } from './Impact.svelte';
export { default as ReleaseProof } from './ReleaseProof.svelte';
