import { describe, expect, it } from 'vitest';
import { readText, UnreadableBody } from './read-text.ts';

const sent = (body: string | ReadableStream<Uint8Array>, headers: Record<string, string> = {}) =>
  new Request('http://x.example/', { method: 'POST', body, headers, duplex: 'half' } as RequestInit);
const bytes = (text: string) => new TextEncoder().encode(text);

/** A body that says nothing of its length; `given` counts the parts that were asked for. */
function stream(parts: number, part: Uint8Array) {
  let given = 0;
  const body = new ReadableStream<Uint8Array>(
    {
      pull(controller) {
        if (given++ < parts) controller.enqueue(part);
        else controller.close();
      },
    },
    { highWaterMark: 0 },
  );
  return { body, given: () => given };
}

describe('a body is read', () => {
  it.each<[string, Request, string | undefined]>([
    ['whole', sent('{"a": 1}'), '{"a": 1}'],
    ['up to the last byte that is taken', sent('x'.repeat(20)), 'x'.repeat(20)],
    ['by bytes, not by characters', sent('é'.repeat(11)), undefined],
    ['not at all where it says that it is longer', sent('x', { 'content-length': '21' }), undefined],
    ['where a character comes in two parts', sent(stream(1, bytes('é')).body), 'é'],
    ['where there is none', new Request('http://x.example/', { method: 'POST' }), ''],
  ])('%s', async (_, request, text) => {
    expect(await readText(request, 20)).toBe(text);
  });

  it.each<[string, ReadableStream<Uint8Array>, string]>([
    ['is not UTF-8', stream(1, Uint8Array.of(0x4a, 0xf6)).body, 'The body is not UTF-8.'],
    ['ends within a character', stream(1, Uint8Array.of(0xc3)).body, 'The body is not UTF-8.'],
    [
      'is cut off',
      new ReadableStream({ pull: (to) => to.error(new Error('aborted')) }, { highWaterMark: 0 }),
      'The body was cut off.',
    ],
  ])('not where it %s, and the sender is told', async (_, body, says) => {
    await expect(readText(sent(body), 20)).rejects.toThrow(new UnreadableBody(says));
  });

  it('not without end, whatever is still to come', async () => {
    const endless = stream(1_000_000, bytes('x'.repeat(10)));
    expect(await readText(sent(endless.body), 25, 25)).toBeUndefined();
    expect(endless.given()).toBeLessThan(10);
  });
});
