import { createHash } from 'node:crypto';
import { expect, it } from 'vitest';
import { sha256Of } from './digest.ts';

it.each([
  ['nothing', ''],
  ['a short text', 'Alder'],
  ['a text of several pieces', 'Fen and fold. '.repeat(30_000)],
  ['a character of two units where a piece would end', `${'x'.repeat(99_999)}😀${'y'.repeat(150_000)}`],
])('the digest of %s is that of the whole', async (_, text) => {
  expect(await sha256Of(text)).toBe(createHash('sha256').update(text).digest('hex'));
});
