/**
 * A UUID of version 4 (RFC 9562, section 5.4). Browsers make one themselves only on pages that came by TLS or from their own
 * machine; random bytes they give everywhere, and an installation within a house often has no certificate.
 */
export const uniqueId = (): string =>
  'randomUUID' in crypto ? crypto.randomUUID() : fromBytes((crypto as Crypto).getRandomValues(new Uint8Array(16)));

function fromBytes(bytes: Uint8Array): string {
  bytes[6] = (bytes[6]! & 0x0f) | 0x40;
  bytes[8] = (bytes[8]! & 0x3f) | 0x80;
  const digits = Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join('');
  return digits.replace(/^(.{8})(.{4})(.{4})(.{4})/, '$1-$2-$3-$4-');
}
