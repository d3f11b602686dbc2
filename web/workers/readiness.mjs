/** Looks through and tests a draft, on a thread of its own: whatever its formulas do, requests go on. */
import { readinessOf } from '../../core/dist/rule-tests/index.js';
import { zoneOffset } from '../../core/dist/host/zones.js';
import { phoneNumber } from '../../core/dist/host/phone-numbers.js';
import { createPatterns } from '../../core/dist/host/patterns.js';

const host = { pattern: createPatterns(), phone: phoneNumber, zoneOffset };

/** `rulebook`: as JSON. */
export default (rulebook) => readinessOf(JSON.parse(rulebook), host);
