import type { TestLineResult } from '$lib/workers/analysis.ts';

/** What each test expects and does not get; of a family, each line with what sets it apart. */
export function failuresByTest(lines: readonly TestLineResult[]): ReadonlyMap<string, readonly string[]> {
  const found = new Map<string, readonly string[]>();
  for (const { key, of, name, failures } of lines) {
    const label = key === of ? '' : `${name.slice(name.indexOf(': ') + 2)}: `;
    found.set(of, [...(found.get(of) ?? []), ...failures.map((f) => label + f)]);
  }
  return found;
}
