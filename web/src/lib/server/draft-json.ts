/** The draft as the bytes that pages read, written in steps and kept. */
import { onceEach } from '@rigid-rule/core/values';
import type { WholeDraft } from '../draft-protocol.ts';
import { inSteps } from './in-steps.ts';
import { inBytes, jsonTexts } from './json-texts.ts';
import type { CurrentDraft } from './rulebook.ts';

/** JSON of a `WholeDraft`, in UTF-8: every page asks for it. */
export const draftBytes = onceEach((draft: CurrentDraft): Promise<Uint8Array<ArrayBuffer>> =>
  inSteps(bytesInSteps(draft)),
);

/** Down to the rows of a table: the draft, its parts, one of them, its body. */
const depth = 4;

export function* bytesInSteps({ parts, stamp }: WholeDraft): Generator<void, Uint8Array<ArrayBuffer>> {
  const pieces: Uint8Array[] = [];
  for (const piece of inBytes(jsonTexts({ stamp, parts }, depth))) {
    pieces.push(piece);
    yield;
  }
  return joined(pieces);
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
