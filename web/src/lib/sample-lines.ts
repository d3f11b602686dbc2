/**
 * All sample records of a type, as lines for `PackedRecords`. `set`: its id; undefined: the oldest.
 * @throws in words, where they cannot be loaded.
 */
import { ask, whyNot } from './network.ts';

export async function loadLines(
  type: string,
  set: number | undefined,
  take: (bytes: Uint8Array) => void,
): Promise<void> {
  const answer = await ask(`/api/samples/${type}/lines${set === undefined ? '' : `?set=${set}`}`);
  // A record type that was made a moment ago may not be with the server yet: it has no samples.
  if (answer.status === 404) return;
  if (!answer.ok || !answer.body) throw await whyNot(answer, 'The sample records could not be loaded.');
  const reader = answer.body.getReader();
  for (let piece = await reader.read(); !piece.done; piece = await reader.read()) take(piece.value);
}
