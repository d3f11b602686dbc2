export { default as Desk } from './Desk.svelte';
export { default as Ruler } from './ruler/Ruler.svelte';
