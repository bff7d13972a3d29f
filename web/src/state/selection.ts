import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'

/** Tasks that are marked for doing something with all of them. */
export const useSelection = defineStore('selection', () => {
  const marked = shallowRef<ReadonlySet<number>>(new Set())
  let last: number | null = null
  const set = (ids: Iterable<number>): void => void (marked.value = new Set(ids))
  /** Marks or unmarks one; with `order`, everything between the last marked and this one. */
  function toggle(id: number, order?: readonly number[]): void {
    const next = new Set(marked.value)
    const [a, b] = order && last !== null ? [order.indexOf(last), order.indexOf(id)] : [-1, -1]
    if (order && a >= 0 && b >= 0)
      for (const each of order.slice(Math.min(a, b), Math.max(a, b) + 1)) next.add(each)
    else if (!next.delete(id)) next.add(id)
    last = id
    marked.value = next
  }
  const clear = (): void => {
    last = null
    marked.value = new Set()
  }
  return {
    marked,
    count: computed(() => marked.value.size),
    has: (id: number) => marked.value.has(id),
    set,
    toggle,
    clear,
  }
})
