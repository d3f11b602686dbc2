import type { IncomingMessage } from 'node:http';

export function clientAddressBy(settings: {
  readonly ADDRESS_HEADER?: string;
  readonly XFF_DEPTH?: string;
}): (req: IncomingMessage) => string;
