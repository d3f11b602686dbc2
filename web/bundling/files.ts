/** Which modules share a file: those that the same pages need at once. */
import type { Imports } from './imports.ts';

export interface SharedFile {
  readonly pages: ReadonlySet<string>;
  readonly modules: readonly string[];
}

/** Characters of source below which what several pages share is not worth a file of its own. */
const small = 3_000;

const isWithin = (a: ReadonlySet<string>, b: ReadonlySet<string>): boolean => [...a].every((page) => b.has(page));

/**
 * One file for each set of pages. What is small and shared goes to a file that more pages load, if those load all that
 * it imports anyway: nobody loads more than the small. Files import only such as more pages load, so never each other.
 */
export function filesOf(
  pagesOf: ReadonlyMap<string, ReadonlySet<string>>,
  importsOf: Imports,
  sizeOf: (id: string) => number,
): readonly SharedFile[] {
  const byPages = new Map<string, { pages: ReadonlySet<string>; modules: string[] }>();
  for (const [id, pages] of pagesOf) {
    const key = [...pages].sort().join();
    const file = byPages.get(key) ?? { pages, modules: [] };
    file.modules.push(id);
    byPages.set(key, file);
  }
  const files = [...byPages.values()].sort((a, b) => a.pages.size - b.pages.size);
  const fileOf = new Map(files.flatMap((file) => file.modules.map((id) => [id, file] as const)));
  // Those of the most pages first: whatever takes something in stays.
  for (let i = files.length - 1; i >= 0; i--) {
    const file = files[i]!;
    const size = file.modules.reduce((sum, id) => sum + sizeOf(id), 0);
    if (file.pages.size === 1 || size >= small) continue;
    const needed = new Set(file.modules.flatMap((id) => [...importsOf(id)].map((other) => fileOf.get(other)!)));
    needed.delete(file);
    const wider = files
      .slice(i + 1)
      .find((other) => isWithin(file.pages, other.pages) && [...needed].every((n) => isWithin(other.pages, n.pages)));
    if (!wider) continue;
    wider.modules.push(...file.modules);
    for (const id of file.modules) fileOf.set(id, wider);
    files.splice(i, 1);
  }
  return files;
}
