import type { KindFace } from '../kind-face.ts';

export const face: KindFace = {
  mark: 'M7 1.8a4.2 4.2 0 1 0 .01 0M7 5a1 1 0 1 0 .01 0',
  editor: () => import('./DefaultEditor.svelte'),
};
