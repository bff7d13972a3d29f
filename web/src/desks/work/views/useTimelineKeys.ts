import { computed, ref, type Ref } from 'vue'
import { focusWhenThere } from '#web/parts/focus-when-there.ts'
import type { Moved } from './span.ts'

interface Lanes {
  readonly scroller: Readonly<Ref<HTMLElement | null>>
  /** The task of a line; null where it is a head. */
  readonly idAt: (index: number) => number | null
  readonly count: () => number
  /** Lines that are in sight. */
  readonly inSight: () => readonly number[]
  readonly show: (index: number) => void
  /** Moves a task by Alt and an arrow; answers where it came to lie. */
  readonly move: (event: KeyboardEvent, id: number) => Promise<Moved | null>
  /** Does what a key does to a task; answers whether it does anything. */
  readonly act: (event: KeyboardEvent, id: number) => boolean
}
const ALL = 1_000_000
const STEPS: Readonly<Record<string, number>> = {
  ...{ ArrowDown: 1, ArrowUp: -1, PageDown: 12, PageUp: -12, Home: -ALL, End: ALL },
}

/** One stop of Tab for a timeline: arrows lead from line to line, and from a name to its bar. */
export function useTimelineKeys({ scroller, idAt, count, inSight, show, ...does }: Lanes) {
  const cursor = ref({ index: 0, bar: false })
  const stop = computed(() => {
    const { index, bar } = cursor.value
    const here = inSight()
    if (here.includes(index) && idAt(index) !== null) return { index, bar }
    return { index: here.find((each) => idAt(each) !== null) ?? -1, bar }
  })
  /** The nearest line of a task in a direction. */
  function lineFrom(index: number, by: number): number {
    const step = by < 0 ? -1 : 1
    let at = Math.max(0, Math.min(count() - 1, index + by))
    while (idAt(at) === null && at > 0 && at < count() - 1) at += step
    return idAt(at) === null ? index : at
  }
  async function go(index: number, bar: boolean): Promise<void> {
    cursor.value = { index, bar }
    show(index)
    await focusWhenThere(
      () =>
        scroller.value
          ?.querySelector(`[data-index="${index}"]`)
          ?.querySelector<HTMLElement>(`[data-at="${bar ? 'bar' : 'name'}"]`),
      () => cursor.value.index === index,
    )
  }
  function lead(key: string, index: number, bar: boolean): boolean {
    if (key === 'ArrowLeft' || key === 'ArrowRight') void go(index, key === 'ArrowRight')
    else if (STEPS[key]) void go(lineFrom(index, STEPS[key]), bar)
    else return false
    return true
  }
  function keydown(event: KeyboardEvent): void {
    const from = event.target as HTMLElement
    const line = from.closest<HTMLElement>('[data-index]')
    const index = Number(line?.dataset['index'] ?? -1)
    const id = idAt(index)
    if (id === null || !from.dataset['at'] || event.ctrlKey || event.metaKey) return
    const bar = from.dataset['at'] === 'bar'
    cursor.value = { index, bar }
    if (event.altKey) return void does.move(event, id)
    if (lead(event.key, index, bar) || does.act(event, id)) event.preventDefault()
  }
  return { stop, keydown }
}
