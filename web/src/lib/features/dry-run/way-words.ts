import type { ImpactWay } from '@rigid-rule/core/rule-tests';

/** How the records are written that a dry run tries, within a sentence. */
export const wayWords: Readonly<Record<ImpactWay, string>> = {
  'next save': 'at the next save',
  'as new': 'as new records',
  backfill: 'by a backfill',
};
