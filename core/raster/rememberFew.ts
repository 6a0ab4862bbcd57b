/** What is made of keys, remembered until there are too many of them; then all is forgotten: those that are asked for come back.
 * @param most - How many are remembered. */
export function rememberFew<K, V>(most: number, make: (key: K) => V): (key: K) => V {
  const known = new Map<K, V>();
  return (key) => {
    const there = known.get(key);
    if (there !== undefined) return there;
    if (known.size >= most) known.clear();
    const made = make(key);
    known.set(key, made);
    return made;
  };
}
