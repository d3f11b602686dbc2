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
  let from = 0;
  while (from < text.length) {
    // The two halves of a character stay together.
    const to = from + piece + (isLeading(text.charCodeAt(from + piece - 1)) ? 1 : 0);
    hash.update(text.slice(from, to));
    from = to;
    yield;
  }
  return hash.digest('hex');
}
