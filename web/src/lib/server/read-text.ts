/** Bytes beyond what is taken that are read and thrown away, so that the sender hears the answer on its connection. */
const thrownAway = 16_000_000;

/** Why a body cannot be read: it was cut off, or is not UTF-8 as RFC 8259 (section 8.1) asks of JSON. */
export class UnreadableBody extends Error {}

/**
 * The body of a request as text; undefined where it is longer than `mostBytes`: what is beyond is never kept.
 *
 * @throws {UnreadableBody} in words.
 */
export async function readText(
  request: Request,
  mostBytes: number,
  mostThrownAway = thrownAway,
): Promise<string | undefined> {
  const length = request.headers.get('content-length');
  if (length !== null && Number(length) <= mostBytes) return decoded(await request.arrayBuffer().catch(cutOff));
  if (!request.body) return '';
  const decoder = new TextDecoder('utf-8', { fatal: true });
  let text = '';
  let bytes = 0;
  let tooLong = Number(length ?? 0) > mostBytes;
  // Leaving the loop early ends the connection.
  try {
    for await (const chunk of request.body as unknown as AsyncIterable<Uint8Array>) {
      bytes += chunk.byteLength;
      tooLong ||= bytes > mostBytes;
      if (bytes > mostBytes + mostThrownAway) break;
      text = tooLong ? '' : text + decoder.decode(chunk, { stream: true });
    }
    return tooLong ? undefined : text + decoder.decode();
  } catch (e) {
    if (e instanceof TypeError) throw notUtf8(e);
    return cutOff(e);
  }
}

// Nothing but the sender is at fault in either.
const notUtf8 = (cause: unknown): UnreadableBody => new UnreadableBody('The body is not UTF-8.', { cause });
const cutOff = (cause: unknown): never => {
  throw new UnreadableBody('The body was cut off.', { cause });
};

function decoded(bytes: ArrayBuffer): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch (e) {
    throw notUtf8(e);
  }
}
