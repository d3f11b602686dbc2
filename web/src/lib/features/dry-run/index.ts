export { default as DryRunArea } from './DryRunArea.svelte';
