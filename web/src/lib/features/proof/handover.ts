/** A record made up elsewhere, handed to the bench: it is in no list, so its address alone could not say it. */
import { deskOf, ruleAddress } from '$lib/addresses.ts';
import type { RuleTest } from '@rigid-rule/core/document';

let handed: RuleTest | undefined;

/** Where the bench shows it. */
export function handover(test: RuleTest, rule?: string): string {
  handed = test;
  const at = rule === undefined ? deskOf(test.recordType) : ruleAddress(test.recordType, rule);
  return `${at}?test=${handedKey}`;
}

export const handedKey = 'handed-over';

/** What was handed over last, for that record type. */
export const takeHanded = (recordType: string): RuleTest | undefined =>
  handed?.recordType === recordType ? handed : undefined;
