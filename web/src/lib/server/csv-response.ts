/** A file of CSV that is sent as it is read, however long it is. */
import { byteOrderMark, csvText } from '../csv-text.ts';

type Lines = readonly (readonly string[])[];

/** Lines under a head, piece by piece; what is wrong with the question is known before anything is answered. */
export async function csvResponse(
  head: readonly string[],
  pieces: AsyncGenerator<Lines>,
  name: string,
): Promise<Response> {
  const first = await pieces.next();
  let begun: Lines | undefined = [head, ...(first.done ? [] : first.value)];
  const encoder = new TextEncoder();
  const body = new ReadableStream<Uint8Array>({
    async pull(controller) {
      if (begun) {
        controller.enqueue(encoder.encode(byteOrderMark + csvText(begun)));
        begun = undefined;
        return;
      }
      const { value, done } = await pieces.next();
      if (done) controller.close();
      else controller.enqueue(encoder.encode(csvText(value)));
    },
    cancel: async () => void (await pieces.return(undefined)),
  });
  return new Response(body, {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': `attachment; filename="${name}.csv"`,
    },
  });
}
