export { default as FieldsArea } from './FieldsArea.svelte';
