import type { Entry } from './journal.ts'

/**
 * By how much the counts of what rows point at have moved: for each number that stands, or stood, in
 * a column of the rows of a table, how many more of them there are.
 */
export function moved<K extends number>(
  entries: readonly Entry[],
  entity: Entry['entity'],
  column: string,
): Map<K, number> {
  const by = new Map<K, number>()
  const count = (key: unknown, one: number) => {
    if (typeof key === 'number') by.set(key as K, (by.get(key as K) ?? 0) + one)
  }
  for (const entry of entries) {
    if (entry.entity !== entity) continue
    count(entry.before?.[column], -1)
    count(entry.after?.[column], 1)
  }
  for (const [key, one] of by) if (one === 0) by.delete(key)
  return by
}
