/**
 * Keys for a list that is shown from the keys of what it holds. In a draft that is being worked on one may stand twice:
 * the second is told apart by its place, so that the page shows both, and the finding that says so.
 */
export function distinct(keys: readonly string[]): readonly string[] {
  const seen = new Set<string>();
  return keys.map((key, i) => {
    const own = seen.has(key) ? `${key} (${i})` : key;
    seen.add(own);
    return own;
  });
}
