/** What is worked out of something immutable, once for each: kept as long as that is, and no longer. */
export function onceEach<K extends object, V>(make: (of: K) => V): (of: K) => V {
  const known = new WeakMap<K, V>();
  return (of) => {
    let value = known.get(of);
    if (value === undefined) known.set(of, (value = make(of)));
    return value;
  };
}
