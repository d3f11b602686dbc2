/** Looks through and tests a draft, on a thread of its own: whatever its formulas do, requests go on. */
import { readinessOf } from '@rigid-rule/core/rule-tests';
import { zoneOffset } from '@rigid-rule/core/host/zones';
import { phoneNumber } from '@rigid-rule/core/host/phone-numbers';
import { createPatterns } from '@rigid-rule/core/host/patterns';

const host = { pattern: createPatterns(), phone: phoneNumber, zoneOffset };

/** `rulebook`: as JSON. */
export default (rulebook) => readinessOf(JSON.parse(rulebook), host);
