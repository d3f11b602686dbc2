/** How a rule of a kind looks before and after, where a picture says more than words: a new kind is one line here. */
import { canonicalJson, readCategorize, type RecordType, type Rule } from '@rigid-rule/core';
import type { Component } from 'svelte';
import BandChange from './BandChange.svelte';

export interface ChangePictureProps {
  before: Rule;
  after: Rule;
  recordType: RecordType;
  live: number | null;
}

interface ChangePicture {
  readonly component: Component<ChangePictureProps>;
  /** Whether there is something to see. */
  readonly shows: (before: Rule, after: Rule) => boolean;
}

const bands = (rule: Rule): string => canonicalJson(readCategorize(rule.outcome).bands);

export const changePictures: Readonly<Record<string, ChangePicture>> = {
  categorize: { component: BandChange, shows: (before, after) => bands(before) !== bands(after) },
};
