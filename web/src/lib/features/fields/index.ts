export { default as DayPicker } from './DayPicker.svelte';
export { default as DayInput } from './DayInput.svelte';
export { default as FieldInput } from './FieldInput.svelte';
export { default as NumberInput } from './NumberInput.svelte';
export { instantReader } from './readers.ts';
export { editedValue, shownText, shownValue, titlesBy, typedValue, type Titles } from './shown.ts';
export { findRecords, type FindLinks, type FoundLink } from './links.ts';
export { wordsFor } from './sentences.ts';
export { loadDayInput } from './later.ts';
