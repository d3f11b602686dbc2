export { default as MapArea } from './MapArea.svelte';
