/** What rule kinds show of themselves. */
export { kindFace } from './faces.ts';
export { default as KindMark } from './KindMark.svelte';
