/** Bytes beyond what is taken that are read and thrown away, so that the sender hears the answer on its connection. */
const thrownAway = 16_000_000;

/** The body of a request as text; undefined where it is longer than `mostBytes`: what is beyond is never kept. */
export async function readText(
  request: Request,
  mostBytes: number,
  mostThrownAway = thrownAway,
): Promise<string | undefined> {
  if (!request.body) return '';
  const decoder = new TextDecoder();
  let text = '';
  let bytes = 0;
  let tooLong = Number(request.headers.get('content-length') ?? 0) > mostBytes;
  // Leaving the loop early ends the connection.
  for await (const chunk of request.body as unknown as AsyncIterable<Uint8Array>) {
    bytes += chunk.byteLength;
    tooLong ||= bytes > mostBytes;
    if (bytes > mostBytes + mostThrownAway) break;
    text = tooLong ? '' : text + decoder.decode(chunk, { stream: true });
  }
  return tooLong ? undefined : text + decoder.decode();
}
