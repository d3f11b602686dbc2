import type { KindFace } from '../kind-face.ts';

export const face: KindFace = {
  mark: 'M3 1a2 2 0 1 0 .01 0M12 7a2 2 0 1 0 .01 0M5 4l5 4',
  editor: () => import('./MapEditor.svelte'),
};
