import type { KindFace } from '../kind-face.ts';

export const face: KindFace = { mark: 'M2 2h10v8H2zM4.5 6l2 2 3.5-4', editor: () => import('./ValidateEditor.svelte') };
