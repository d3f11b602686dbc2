/** Work in steps, done without a pause: what others would have to wait for is a generator that yields between its steps. */
export function inOneGo<T>(work: Generator<unknown, T>): T {
  for (let step = work.next(); ; step = work.next()) if (step.done) return step.value;
}
