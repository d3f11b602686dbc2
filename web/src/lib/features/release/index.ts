export { default as BandChange } from './BandChange.svelte';
export { default as Timeline } from './Timeline.svelte';
