export { default as ChangeList } from './ChangeList.svelte';
export { default as Checks } from './Checks.svelte';
export { Comparison } from './comparison.ts';
export { default as Impact } from './Impact.svelte';
export { default as PutBack } from './PutBack.svelte';
export { default as ReleaseProof } from './ReleaseProof.svelte';
export { default as Timeline } from './Timeline.svelte';
export { timelineOf } from './timeline.ts';
