export { default as TestsArea } from './TestsArea.svelte';
