/** A small seeded generator (mulberry32), so that the demo is the same on every machine. */
export interface Random {
  /** From 0 up to but not including 1. */
  next(): number;
  /** A whole number from `low` to `high`, both included. */
  whole(low: number, high: number): number;
  pick<T>(items: readonly T[]): T;
  /** True in this share of the cases. */
  chance(share: number): boolean;
  /** Standard normal, by the sum of twelve uniforms: no transcendental functions, so the same bits everywhere. */
  normal(): number;
}

export function createRandom(seed: number): Random {
  let state = seed >>> 0;
  const next = (): number => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  return {
    next,
    whole: (low, high) => low + Math.floor(next() * (high - low + 1)),
    pick: (items) => items[Math.floor(next() * items.length)]!,
    chance: (share) => next() < share,
    normal() {
      let sum = -6;
      for (let i = 0; i < 12; i++) sum += next();
      return sum;
    },
  };
}
