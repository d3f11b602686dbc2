/** SHA-256 of texts that may be long: a piece at a time, so that requests go on in between. */
import { createHash } from 'node:crypto';
import { inSteps } from './in-steps.ts';

/** UTF-16 units: half a millisecond or so. */
const piece = 100_000;

const isLeading = (unit: number): boolean => unit >= 0xd800 && unit <= 0xdbff;

/** In hexadecimal, of the text as UTF-8. */
export const sha256Of = (text: string): Promise<string> => inSteps(digest(text));

function* digest(text: string): Generator<void, string> {
  const hash = createHash('sha256');
  for (let from = 0, to = 0; from < text.length; from = to) {
    to = Math.min(from + piece, text.length);
    // The two halves of a character stay together.
    if (to < text.length && isLeading(text.charCodeAt(to - 1))) to++;
    hash.update(text.slice(from, to));
    yield;
  }
  return hash.digest('hex');
}
