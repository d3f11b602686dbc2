export { default as FieldInput } from './FieldInput.svelte';
export { shownValue, type Titles } from './shown.ts';
export type { FindLinks } from './links.ts';
