/** Which rules have still to be looked at, by their place in the order: a set of bits, so that finding the next one costs
 * by the rules that are awake and not by the rules that there are. */
export class Agenda {
  private readonly words: Int32Array;

  constructor(size: number) {
    this.words = new Int32Array((size + 31) >>> 5);
  }

  clear(): void {
    this.words.fill(0);
  }

  has(at: number): boolean {
    return (this.words[at >>> 5]! & (1 << (at & 31))) !== 0;
  }

  add(at: number): void {
    this.words[at >>> 5]! |= 1 << (at & 31);
  }

  remove(at: number): void {
    this.words[at >>> 5]! &= ~(1 << (at & 31));
  }

  /** The first place from `from` on; -1 where there is none. */
  next(from: number): number {
    const { words } = this;
    let word = from >>> 5;
    if (word >= words.length) return -1;
    let bits = words[word]! & (-1 << (from & 31));
    while (bits === 0) {
      if (++word >= words.length) return -1;
      bits = words[word]!;
    }
    return (word << 5) + 31 - Math.clz32(bits & -bits);
  }
}
