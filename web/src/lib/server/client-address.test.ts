import type { IncomingMessage } from 'node:http';
import { describe, expect, it } from 'vitest';
import { clientAddressBy } from '../../../client-address.mjs';

const asked = (headers: Record<string, string>) =>
  ({ headers, socket: { remoteAddress: '10.0.0.9' } }) as unknown as IncomingMessage;

describe('who asks', () => {
  const forwarded = asked({ 'x-forwarded-for': '192.0.2.7, 198.51.100.2,10.0.0.4', 'x-real-ip': '203.0.113.5' });
  it.each<[string, { ADDRESS_HEADER?: string; XFF_DEPTH?: string }, IncomingMessage, string]>([
    ['is the other end where no proxy is named, whatever is written', {}, forwarded, '10.0.0.9'],
    ['is whom the last proxy saw', { ADDRESS_HEADER: 'X-Forwarded-For' }, forwarded, '10.0.0.4'],
    ['is whom the first of two saw', { ADDRESS_HEADER: 'x-forwarded-for', XFF_DEPTH: '2' }, forwarded, '198.51.100.2'],
    [
      'is the other end where fewer are told than there are proxies',
      { ADDRESS_HEADER: 'x-forwarded-for', XFF_DEPTH: '4' },
      forwarded,
      '10.0.0.9',
    ],
    ['is as told where a header says but one', { ADDRESS_HEADER: 'X-Real-IP' }, forwarded, '203.0.113.5'],
    ['is the other end where the proxy says nothing', { ADDRESS_HEADER: 'x-real-ip' }, asked({}), '10.0.0.9'],
  ])('%s', (_, settings, request, address) => {
    expect(clientAddressBy(settings)(request)).toBe(address);
  });

  it.each(['0', '-1', 'two', '1.5'])('is never guessed from a depth of %s', (XFF_DEPTH) => {
    expect(() => clientAddressBy({ XFF_DEPTH })).toThrow('XFF_DEPTH is the number of your proxies');
  });
});
