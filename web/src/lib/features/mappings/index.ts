export { default as MappingsArea } from './MappingsArea.svelte';
