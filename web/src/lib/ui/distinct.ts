/**
 * Keys for a list that is shown from the keys of what it holds. In a draft that is being worked on one may stand twice:
 * the second is told apart by its place, so that the page shows both, and the finding that says so.
 */
export function distinct(keys: readonly string[]): readonly string[] {
  const seen = new Set<string>();
  return keys.map((key, i) => {
    let own = key;
    while (seen.has(own)) own = `${own} (${i})`;
    seen.add(own);
    return own;
  });
}
