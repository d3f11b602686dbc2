import { canonicalJson, type Rule } from '@rigid-rule/core/document';
import type { KindFace } from '../kind-face.ts';

/** As they stand, whatever they are: what reads them comes with the picture. */
const bands = ({ outcome }: Rule): string => canonicalJson((outcome as { readonly bands?: unknown })?.bands ?? null);

export const face: KindFace = {
  mark: 'M1 10.5h13M2 10V4M5 10V7M8 10V2M11 10V7M14 10V4',
  editor: () => import('./CategorizeEditor.svelte'),
  picture: {
    load: () => import('./BandChange.svelte'),
    shows: (before, after) => bands(before) !== bands(after),
  },
};
