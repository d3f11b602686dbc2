/** What must be true of every record of the demo, whatever is entered. One of them is not: it is there to be seen. */
import type { Claim } from '@rigid-rule/core/document';

const claim = (key: string, recordType: string, name: string, condition: string): Claim => ({
  key,
  name,
  recordType,
  condition,
});

export const claims: readonly Claim[] = [
  claim(
    'large-by-employees',
    'customer',
    'Nobody is Large with fewer than 250 employees',
    'Size class != "Large" or Employee count >= 250',
  ),
  claim(
    'large-has-limit',
    'customer',
    'A large holding has a credit limit',
    'if Size class = "Large" then Credit limit != null else true',
  ),
  claim(
    'source-gives-priority',
    'lead',
    'A lead with a source has a priority',
    'if Source != null then Priority != null else true',
  ),
  claim('discount-limit', 'deal', 'A discount is never over 15 %', 'Discount = null or Discount <= 0.15'),
  claim('visit-amount', 'visit', 'A visit never costs less than nothing', 'Visit amount = null or Visit amount >= 0'),
];
