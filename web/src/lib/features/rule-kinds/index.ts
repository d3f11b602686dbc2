/** What rule kinds show of themselves. */
export { kindFace } from './faces.ts';
export type { ChangePictureProps, OutcomeEditorProps } from './kind-face.ts';
export { default as KindMark } from './KindMark.svelte';
