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
  if (!request.body) return '';
  const decoder = new TextDecoder('utf-8', { fatal: true });
  let text = '';
  let bytes = 0;
  let tooLong = Number(request.headers.get('content-length') ?? 0) > mostBytes;
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
    // Nothing but the sender is at fault here.
    throw new UnreadableBody(e instanceof TypeError ? 'The body is not UTF-8.' : 'The body was cut off.', { cause: e });
  }
}
