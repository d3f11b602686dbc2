/** The draft as the bytes that pages read, written in steps: a large one would hold up everybody else. */
import type { VersionedPart, WholeDraft } from '../draft-protocol.ts';
import { inSteps } from './in-steps.ts';
import type { CurrentDraft } from './rulebook.ts';

const rowsInStep = 1000;

/** Of drafts that are still in use: they never change, and are asked for by every page. */
const known = new WeakMap<CurrentDraft, Promise<Uint8Array<ArrayBuffer>>>();

/** JSON of a `WholeDraft`, in UTF-8. */
export function draftBytes(draft: CurrentDraft): Promise<Uint8Array<ArrayBuffer>> {
  const bytes = known.get(draft) ?? inSteps(bytesInSteps(draft));
  known.set(draft, bytes);
  return bytes;
}

export function* bytesInSteps({ parts, stamp }: WholeDraft): Generator<void, Uint8Array<ArrayBuffer>> {
  const encoder = new TextEncoder();
  const pieces: Uint8Array[] = [encoder.encode(`{"stamp":${JSON.stringify(stamp)},"parts":[`)];
  let text = '';
  for (const [i, part] of parts.entries()) {
    if (i > 0) text += ',';
    for (const piece of textsOf(part)) {
      text += piece;
      if (text.length < mostInStep) continue;
      pieces.push(encoder.encode(text));
      text = '';
      yield;
    }
  }
  pieces.push(encoder.encode(`${text}]}`));
  return joined(pieces);
}

/** Characters after which others have their turn. */
const mostInStep = 200_000;

/** A part as JSON, the rows of a long table by the thousand. */
function* textsOf(part: VersionedPart): Generator<string, void> {
  const { rows, ...frame } = part.body as { readonly rows?: unknown };
  if (!Array.isArray(rows) || rows.length <= rowsInStep) return yield JSON.stringify(part);
  const { body: _, ...head } = part;
  const open = JSON.stringify({ ...head, body: { ...frame, rows: [] } });
  // The body is the last member of the part, and the rows are the last of the body.
  yield open.slice(0, -']}}'.length);
  for (let i = 0; i < rows.length; i += rowsInStep)
    yield (i > 0 ? ',' : '') + JSON.stringify(rows.slice(i, i + rowsInStep)).slice(1, -1);
  yield ']}}';
}

function joined(pieces: readonly Uint8Array[]): Uint8Array<ArrayBuffer> {
  const whole = new Uint8Array(pieces.reduce((sum, piece) => sum + piece.length, 0));
  let at = 0;
  for (const piece of pieces) {
    whole.set(piece, at);
    at += piece.length;
  }
  return whole;
}
