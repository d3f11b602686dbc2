export { default as RecordForm } from './RecordForm.svelte';
export { default as RecordList } from './RecordList.svelte';
