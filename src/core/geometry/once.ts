/** The same function, worked out once for each value that nobody changes; it is forgotten with the value. */
export function onceFor<K extends object, V>(make: (key: K) => V): (key: K) => V {
  const known = new WeakMap<K, { readonly value: V }>();
  return (key) => {
    const found = known.get(key);
    if (found) return found.value;
    const value = make(key);
    known.set(key, { value });
    return value;
  };
}

/** The same for a value together with a name or number; `name` tells one second argument from another. */
export function onceForEach<K extends object, B, V>(
  make: (key: K, by: B) => V,
  name: (by: B) => string | number,
): (key: K, by: B) => V {
  const known = onceFor((_: K) => new Map<string | number, V>());
  return (key, by) => {
    const all = known(key);
    const id = name(by);
    if (!all.has(id)) all.set(id, make(key, by));
    return all.get(id) as V;
  };
}
