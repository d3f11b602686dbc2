import type { KindFace } from '../kind-face.ts';

export const face: KindFace = {
  mark: 'M1 2c5 0 5 8 7 8M1 10c5 0 5-8 7-8M8 6h6',
  editor: () => import('./DeriveEditor.svelte'),
};
