import type { Rule, Rulebook } from '@rigid-rule/core';
import { recordTypes } from './fields.ts';

/** Headcount limits of Commission Recommendation 2003/361/EC, Annex, Article 2: below 10, below 50, below 250. */
const sizeClass = (largeFrom: number): Rule => ({
  key: 'size-class-from-employee-count',
  recordType: 'customer',
  name: 'Size class, set from employee count',
  purpose: 'Sales plans visits and credit by the size of the holding, so every customer needs one, however it came in.',
  kind: 'categorize',
  on: true,
  position: 0,
  moments: ['editing', 'creating', 'updating'],
  entryPoints: ['form:full', 'form:short', 'import', 'api', 'bulk'],
  repeat: 'wakes',
  winner: 'locked',
  outcome: {
    source: 'Employee count',
    target: 'size_class',
    bands: [
      { from: 0, to: 10, result: 'micro' },
      { from: 10, to: 50, result: 'small' },
      { from: 50, to: largeFrom, result: 'medium' },
      { from: largeFrom, result: 'large' },
    ],
    blank: { do: 'clear' },
    outside: { do: 'clear' },
  },
});

const rulebookWith = (rules: readonly Rule[]): Rulebook => ({
  format: 'rigid-rule/1',
  name: 'Quillhaven Orchard Systems',
  zone: 'Europe/Lisbon',
  currency: 'EUR',
  recordTypes,
  rules,
});

/** What is live when the demo starts: Large from 200, a limit of the firm's own. */
export const firstRelease: Rulebook = rulebookWith([sizeClass(200)]);
export const firstReleaseNote = 'The first rule: size classes for every customer, Large from 200 employees.';

/** What the author is working on: the European limit, Large from 250. */
export const draft: Rulebook = rulebookWith([sizeClass(250)]);
