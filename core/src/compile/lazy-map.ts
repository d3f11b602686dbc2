/** A map whose values are made when they are first asked for; each is made once. */
export class LazyMap<K, S, V> implements ReadonlyMap<K, V> {
  private readonly made = new Map<K, V>();

  /** @param make May not ask this map for the value that it makes. */
  constructor(
    private readonly sources: ReadonlyMap<K, S>,
    private readonly make: (source: S, key: K) => V,
  ) {}

  get(key: K): V | undefined {
    const known = this.made.get(key);
    if (known !== undefined || !this.sources.has(key)) return known;
    const value = this.make(this.sources.get(key)!, key);
    this.made.set(key, value);
    return value;
  }

  /** What was asked for before; makes nothing. */
  peek(key: K): V | undefined {
    return this.made.get(key);
  }

  /** Keeps a value that was made elsewhere; of two the first. */
  keep(key: K, value: V): void {
    if (!this.made.has(key)) this.made.set(key, value);
  }

  has(key: K): boolean {
    return this.sources.has(key);
  }

  get size(): number {
    return this.sources.size;
  }

  keys(): MapIterator<K> {
    return this.sources.keys();
  }

  *entries(): Generator<[K, V], undefined> {
    for (const key of this.sources.keys()) yield [key, this.get(key)!];
  }

  *values(): Generator<V, undefined> {
    for (const [, value] of this.entries()) yield value;
  }

  [Symbol.iterator](): MapIterator<[K, V]> {
    return this.entries();
  }

  forEach(callback: (value: V, key: K, map: ReadonlyMap<K, V>) => void): void {
    for (const [key, value] of this.entries()) callback(value, key, this);
  }

  get [Symbol.toStringTag](): string {
    return 'LazyMap';
  }
}
