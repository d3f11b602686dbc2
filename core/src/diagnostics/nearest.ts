/** Optimal string alignment distance (insert, delete, replace, swap of neighbours), cut off at `limit`. */
export function distance(a: string, b: string, limit: number): number {
  if (Math.abs(a.length - b.length) > limit) return limit + 1;
  let beforeLast: number[] = [];
  let last = Array.from({ length: b.length + 1 }, (_, j) => j);
  for (let i = 1; i <= a.length; i++) {
    const row = [i];
    for (let j = 1; j <= b.length; j++) {
      const same = a[i - 1] === b[j - 1] ? 0 : 1;
      let best = Math.min(last[j]! + 1, row[j - 1]! + 1, last[j - 1]! + same);
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
        best = Math.min(best, beforeLast[j - 2]! + 1);
      row.push(best);
    }
    beforeLast = last;
    last = row;
  }
  return last[b.length]!;
}

/** The known name that a misspelt one most likely stands for, or undefined when none is near enough to be helpful. */
export function nearestName(wrong: string, known: Iterable<string>): string | undefined {
  const folded = wrong.toLowerCase();
  const limit = Math.max(1, Math.floor(folded.length / 3));
  let best: string | undefined;
  let bestDistance = limit + 1;
  for (const name of known) {
    const d = distance(folded, name.toLowerCase(), limit);
    if (d < bestDistance) {
      best = name;
      bestDistance = d;
    }
  }
  return best;
}
