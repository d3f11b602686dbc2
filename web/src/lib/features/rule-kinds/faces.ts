/** The registry of what rule kinds show: one folder and one line here a kind, and none is forgotten. */
import type { RuleKindKey } from '@rigid-rule/core/compile';
import { face as categorize } from './categorize/face.ts';
import { face as fillBlank } from './default/face.ts';
import { face as derive } from './derive/face.ts';
import type { KindFace } from './kind-face.ts';
import { face as map } from './map/face.ts';
import { face as validate } from './validate/face.ts';

const faces: Readonly<Record<RuleKindKey, KindFace>> = { default: fillBlank, derive, categorize, validate, map };

/** Undefined for a kind that this version does not know. */
export const kindFace = (key: string): KindFace | undefined =>
  Object.hasOwn(faces, key) ? faces[key as RuleKindKey] : undefined;
