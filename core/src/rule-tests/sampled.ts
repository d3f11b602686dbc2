/** Which of many, in their order: those whose number, mixed with the seed, comes first (the finalizer of MurmurHash3). */
export function sampled<T>(all: readonly T[], most: number, seed: number): readonly T[] {
  if (all.length <= most) return all;
  const ranked = all.map((_, i) => i).sort((a, b) => mixed(a, seed) - mixed(b, seed));
  return ranked
    .slice(0, most)
    .sort((a, b) => a - b)
    .map((i) => all[i]!);
}

/** A whole number below 2^32 that looks like chance and is the same for the same two. */
export function mixed(n: number, seed: number): number {
  let h = (n + 1) ^ Math.imul(seed + 1, 0x9e3779b1);
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}

/** Numbers that look like chance, from 0 to below 1: the same for the same seed. */
export function randomFrom(seed: number): () => number {
  let n = 0;
  return () => mixed(n++, seed) / 4294967296;
}
