/** The list of built files from which the framework takes what a page loads beforehand. */
import type { Manifest } from 'vite';

/**
 * The same list with all that may be imported later on told by the entries. The framework goes through the files in
 * depth and notes each once: a file that it first meets behind a later import counts as later, even where the page also
 * needs it at once, and is then asked for only when another one has been read.
 */
export function withLaterImportsLast(manifest: Manifest): Manifest {
  const later = (key: string, seen: Set<string>): readonly string[] => {
    if (seen.has(key)) return [];
    seen.add(key);
    const { imports = [], dynamicImports = [] } = manifest[key]!;
    return [...dynamicImports, ...imports.flatMap((other) => later(other, seen))];
  };
  return Object.fromEntries(
    Object.entries(manifest).map(([key, { dynamicImports: _, ...chunk }]) => {
      const own = chunk.isEntry || chunk.isDynamicEntry ? [...new Set(later(key, new Set()))] : [];
      return [key, own.length > 0 ? { ...chunk, dynamicImports: own } : chunk];
    }),
  );
}
