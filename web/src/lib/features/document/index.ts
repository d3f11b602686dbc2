export { default as DocumentArea } from './DocumentArea.svelte';
