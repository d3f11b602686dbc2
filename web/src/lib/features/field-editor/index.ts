export { default as FirstType } from './FirstType.svelte';
export { default as FieldsArea } from './FieldsArea.svelte';
