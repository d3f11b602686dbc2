export { default as TestsArea } from './TestsArea.svelte';
export { provideProof, Proof, useProof } from './proof.svelte.ts';
