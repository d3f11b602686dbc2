/** Looks through and tests a draft, on a thread of its own: whatever its formulas do, requests go on. */
import { readinessOf } from '../../core/dist/index.js';
import { zoneOffset } from '../../core/dist/command/zone-offset.js';
import { phoneNumber } from '../../core/dist/functions/phone-numbers.js';
import { createPatterns } from '../../core/dist/functions/re2-patterns.js';

const host = { pattern: createPatterns(), phone: phoneNumber, zoneOffset };

/** `rulebook`: as JSON. */
export default (rulebook) => readinessOf(JSON.parse(rulebook), host);
