export { default as Password } from './Password.svelte';
export { default as People } from './People.svelte';
export { default as Sessions } from './Sessions.svelte';
export { default as Tokens } from './Tokens.svelte';
