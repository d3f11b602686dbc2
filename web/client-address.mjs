/** Who asks: the other end of the connection, or whom a proxy that the operator named says that it asks for. */

/**
 * @param {{ ADDRESS_HEADER?: string, XFF_DEPTH?: string }} settings `ADDRESS_HEADER` names the header. Each proxy adds
 *   one address at the end of `x-forwarded-for`; `XFF_DEPTH` says how many of them are the operator's own, 1 where it is
 *   not set.
 * @returns {(req: import('node:http').IncomingMessage) => string} what is not told there is the other end.
 * @throws {Error} where `XFF_DEPTH` is no such number: what is further back anybody may write.
 */
export function clientAddressBy({ ADDRESS_HEADER = '', XFF_DEPTH = '1' }) {
  const name = ADDRESS_HEADER.toLowerCase();
  const depth = Number(XFF_DEPTH);
  if (!Number.isInteger(depth) || depth < 1) throw new Error('XFF_DEPTH is the number of your proxies, 1 or more.');
  const addressIn = (told) => (name === 'x-forwarded-for' ? told.split(',').at(-depth) : told)?.trim();
  return ({ headers, socket }) => addressIn(String(headers[name] ?? '')) || (socket.remoteAddress ?? '');
}
