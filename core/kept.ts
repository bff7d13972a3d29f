/**
 * Makes something once for each key, and keeps it; where there are more than so many, all are forgotten.
 * What is made follows from its key alone. What `make` throws is not kept.
 */
export function kept<K, V extends NonNullable<unknown>>(
  most: number,
  make: (key: K) => V,
): (key: K) => V {
  const known = new Map<K, V>()
  return (key) => {
    let found = known.get(key)
    if (found === undefined) {
      found = make(key)
      if (known.size >= most) known.clear()
      known.set(key, found)
    }
    return found
  }
}
