/** Long JSON in pieces: writing and sending it whole would hold up everybody else. */
import { setImmediate } from 'node:timers/promises';

const itemsInPiece = 100;
/** Characters after which others have their turn. */
const mostInStep = 100_000;

/** The JSON of a value in pieces: members and items one by one down to `depth`, long lists at any depth by the hundred. */
export function* jsonTexts(v: unknown, depth: number): Generator<string, void> {
  if (Array.isArray(v) && (depth > 0 || v.length > itemsInPiece)) return yield* listTexts(v as unknown[], depth);
  if (depth === 0 || v === null || typeof v !== 'object' || 'toJSON' in v) return yield JSON.stringify(v ?? null);
  let before = '{';
  for (const [name, member] of Object.entries(v)) {
    if (member === undefined) continue;
    yield `${before}${JSON.stringify(name)}:`;
    yield* jsonTexts(member, depth - 1);
    before = ',';
  }
  yield before === '{' ? '{}' : '}';
}

function* listTexts(list: readonly unknown[], depth: number): Generator<string, void> {
  yield '[';
  if (list.length > itemsInPiece)
    for (let i = 0; i < list.length; i += itemsInPiece)
      yield (i > 0 ? ',' : '') + JSON.stringify(list.slice(i, i + itemsInPiece)).slice(1, -1);
  else
    for (const [i, item] of list.entries()) {
      if (i > 0) yield ',';
      yield* jsonTexts(item, depth - 1);
    }
  yield ']';
}

/** Pieces put together to some length, in UTF-8. */
export function* inBytes(texts: Iterable<string>): Generator<Uint8Array<ArrayBuffer>, void> {
  const encoder = new TextEncoder();
  let text = '';
  for (const piece of texts) {
    text += piece;
    if (text.length < mostInStep) continue;
    yield encoder.encode(text);
    text = '';
  }
  if (text !== '') yield encoder.encode(text);
}

/** An answer that is written while it is sent. */
export function jsonStream(v: unknown, depth: number): Response {
  const bytes = inBytes(jsonTexts(v, depth));
  const body = new ReadableStream<Uint8Array<ArrayBuffer>>({
    async pull(controller) {
      await setImmediate();
      const step = bytes.next();
      if (step.done) controller.close();
      else controller.enqueue(step.value);
    },
  });
  return new Response(body, { headers: { 'content-type': 'application/json' } });
}
