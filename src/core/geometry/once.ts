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
