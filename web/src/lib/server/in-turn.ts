const last = new Map<string, Promise<unknown>>();

/** Runs work under one key after all that was asked for under it before, whatever became of that. */
export function inTurn<T>(key: string, work: () => Promise<T>): Promise<T> {
  const before = last.get(key);
  const mine = before ? before.then(work, work) : work();
  last.set(key, mine);
  const leave = (): void => {
    if (last.get(key) === mine) last.delete(key);
  };
  mine.then(leave, leave);
  return mine;
}
