/** The smallest rule that a draft takes, for tests of drafts. */
import type { PartRef } from '@rigid-rule/core/document';

export const ruleRef = (key: string): PartRef => ({ kind: 'rule', key });

export const ruleBody = (key: string, name = key) => ({
  key,
  recordType: 't',
  name,
  purpose: '',
  kind: 'derive',
  on: true,
  position: 0,
  moments: ['creating'],
  entryPoints: ['api'],
  repeat: 'wakes',
  winner: 'rule',
  outcome: { steps: [] },
});
