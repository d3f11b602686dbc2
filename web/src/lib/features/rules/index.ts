export { default as Desk } from './Desk.svelte';
