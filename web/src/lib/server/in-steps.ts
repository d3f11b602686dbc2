/** Long work of this process itself, done in short steps so that requests go on in between. */
import { setImmediate } from 'node:timers/promises';

/** Milliseconds of work before others have their turn. */
const turn = 4;

export async function inSteps<T>(work: Generator<void, T>): Promise<T> {
  let began = performance.now();
  for (let step = work.next(); ; step = work.next()) {
    if (step.done) return step.value;
    if (performance.now() - began < turn) continue;
    await setImmediate();
    began = performance.now();
  }
}
