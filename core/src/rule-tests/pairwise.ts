/**
 * Pairwise testing: rows such that every two values of two factors stand together in at least one row. Rows are made one
 * by one, each the best of several that were filled in greedily from the pairs that are still missing.
 */
import { randomFrom } from './sampled.ts';

/** A row that is not filled in yet has undefined where nothing stands. */
export type PartialRow = readonly (number | undefined)[];

export interface PairwiseOptions {
  /** Whether a row, whole or in part, may stand; a part may when it could become such a row. */
  readonly allows?: (row: PartialRow) => boolean;
  readonly seed?: number;
  /** Rows tried for each row kept. */
  readonly candidates?: number;
}

/** Rows of value indexes. Pairs that no allowed row holds are left out. `sizes`: how many values each factor has. */
export function pairwise(sizes: readonly number[], options: PairwiseOptions = {}): number[][] {
  const { allows = () => true, seed = 0, candidates = 30 } = options;
  if (sizes.length === 0) return [];
  if (sizes.length === 1) return range(sizes[0]!).flatMap((v) => (allows([v]) ? [[v]] : []));
  const random = randomFrom(seed);
  const missing = new Missing(sizes);
  const rows: number[][] = [];
  while (missing.count > 0) {
    let best: { row: number[]; gain: number } | undefined;
    const first = missing.first();
    for (let c = 0; c < candidates; c++) {
      const from = c === 0 ? first : missing.richest(random);
      const row = filled(sizes, from, missing, allows, random);
      const gain = row ? missing.gain(row) : 0;
      if (row && gain > (best?.gain ?? 0)) best = { row, gain };
    }
    if (best) {
      missing.cover(best.row);
      rows.push(best.row);
      continue;
    }
    // The first pair has no row by chance: it has one by search, or none at all.
    const row = searched(sizes, pairRow(sizes, first), allows);
    if (row) {
      missing.cover(row);
      rows.push(row);
    } else missing.drop(first);
  }
  return rows;
}

const range = (n: number): number[] => Array.from({ length: n }, (_, i) => i);

interface Pair {
  readonly a: number;
  readonly av: number;
  readonly b: number;
  readonly bv: number;
}

const pairRow = (sizes: readonly number[], { a, av, b, bv }: Pair): (number | undefined)[] =>
  sizes.map((_, i) => (i === a ? av : i === b ? bv : undefined));

/** Pairs that stand in no row yet. */
class Missing {
  private readonly offsets: readonly number[];
  private readonly total: number;
  private readonly pairs = new Map<number, Pair>();
  /** How many missing pairs each value is in. */
  private readonly uses: number[];

  constructor(sizes: readonly number[]) {
    let sum = 0;
    this.offsets = sizes.map((n) => (sum += n) - n);
    this.total = sum;
    this.uses = range(sum).map(() => 0);
    for (let a = 0; a < sizes.length; a++)
      for (let b = a + 1; b < sizes.length; b++)
        for (let av = 0; av < sizes[a]!; av++)
          for (let bv = 0; bv < sizes[b]!; bv++) {
            this.pairs.set(this.id(a, av, b, bv), { a, av, b, bv });
            this.uses[this.offsets[a]! + av]!++;
            this.uses[this.offsets[b]! + bv]!++;
          }
  }

  get count(): number {
    return this.pairs.size;
  }

  private id(a: number, av: number, b: number, bv: number): number {
    const [x, y] =
      a < b ? [this.offsets[a]! + av, this.offsets[b]! + bv] : [this.offsets[b]! + bv, this.offsets[a]! + av];
    return x * this.total + y;
  }

  has(a: number, av: number, b: number, bv: number): boolean {
    return this.pairs.has(this.id(a, av, b, bv));
  }

  first(): Pair {
    return this.pairs.values().next().value!;
  }

  /** A missing pair of the value that is in most of them, equals by chance. */
  richest(random: () => number): Pair {
    let [best, at] = [-1, 0];
    for (let i = 0; i < this.uses.length; i++) {
      const score = this.uses[i]! + random() * 0.9;
      if (score > best) [best, at] = [score, i];
    }
    for (const pair of this.pairs.values())
      if (this.offsets[pair.a]! + pair.av === at || this.offsets[pair.b]! + pair.bv === at) return pair;
    return this.first();
  }

  gain(row: readonly number[]): number {
    let n = 0;
    for (let a = 0; a < row.length; a++)
      for (let b = a + 1; b < row.length; b++) if (this.has(a, row[a]!, b, row[b]!)) n++;
    return n;
  }

  cover(row: readonly number[]): void {
    for (let a = 0; a < row.length; a++)
      for (let b = a + 1; b < row.length; b++)
        if (this.has(a, row[a]!, b, row[b]!)) this.drop({ a, av: row[a]!, b, bv: row[b]! });
  }

  drop({ a, av, b, bv }: Pair): void {
    this.pairs.delete(this.id(a, av, b, bv));
    this.uses[this.offsets[a]! + av]!--;
    this.uses[this.offsets[b]! + bv]!--;
  }
}

/** A row that begins with a pair: the other factors in any order, each with the value that adds most; equals by chance. */
function filled(
  sizes: readonly number[],
  from: Pair,
  missing: Missing,
  allows: (row: PartialRow) => boolean,
  random: () => number,
): number[] | undefined {
  const row = pairRow(sizes, from);
  if (!allows(row)) return undefined;
  const order = range(sizes.length).filter((i) => row[i] === undefined);
  for (let i = order.length - 1; i > 0; i--) {
    const j = Math.floor(random() * (i + 1));
    [order[i], order[j]] = [order[j]!, order[i]!];
  }
  for (const factor of order) {
    let [best, value] = [-1, -1];
    for (let v = 0; v < sizes[factor]!; v++) {
      row[factor] = v;
      if (!allows(row)) continue;
      let gain = random() * 0.9;
      for (let other = 0; other < row.length; other++)
        if (other !== factor && row[other] !== undefined && missing.has(factor, v, other, row[other]!)) gain++;
      if (gain > best) [best, value] = [gain, v];
    }
    if (value < 0) return undefined;
    row[factor] = value;
  }
  return row as number[];
}

/** The first allowed row that holds what is chosen, by trying all; undefined where there is none. */
function searched(
  sizes: readonly number[],
  chosen: (number | undefined)[],
  allows: (row: PartialRow) => boolean,
): number[] | undefined {
  const at = chosen.indexOf(undefined);
  if (!allows(chosen)) return undefined;
  if (at < 0) return chosen as number[];
  for (let v = 0; v < sizes[at]!; v++) {
    const found = searched(sizes, chosen.with(at, v), allows);
    if (found) return found;
  }
  return undefined;
}
