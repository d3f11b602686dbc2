/**
 * States by key that stay while the parts of a page that show them come and go. What is derived in a state belongs to
 * the part that made it, and is worked out no more once that part has gone: here it belongs to no part.
 */
export class Kept<V> {
  private readonly all = new Map<string, { readonly value: V; readonly end: () => void }>();

  /** The state of this key, made where there is none. */
  of(key: string, make: () => V): V {
    const found = this.all.get(key);
    if (found) return found.value;
    let value!: V;
    const end = $effect.root(() => {
      value = make();
    });
    this.all.set(key, { value, end });
    return value;
  }

  /** For whoever keeps them, on leaving. */
  readonly end = (): void => {
    for (const { end } of this.all.values()) end();
    this.all.clear();
  };
}
