import { computed, ref } from 'vue'
import type { OutlineGroup } from '#contract/query.ts'
import { focusWhenThere } from '#web/parts/focus-when-there.ts'
import { keepsKey } from '#web/parts/types-in.ts'

/** What the keys are on in a column: a task, or the line that adds one. */
export type Spot = number | 'add'

interface Board {
  readonly columns: () => readonly OutlineGroup[]
  /** Whether columns have a line that adds to them. */
  readonly adds: () => boolean
  /** Brings a spot of a column into sight; answers what takes the focus there. */
  readonly find: (column: number, on: Spot) => HTMLElement | null
  /** Into the column beside it, or past the slip above or below; answers whether it went. */
  readonly step: (column: number, id: number, by: 1 | -1) => Promise<boolean>
  readonly shift: (column: number, id: number, by: 1 | -1) => Promise<boolean>
  /** Does what a key does to a task; answers whether it does anything. */
  readonly act: (event: KeyboardEvent, id: number) => boolean
}
const SIDES: Readonly<Record<string, 1 | -1>> = { ArrowLeft: -1, ArrowRight: 1 }
const STEPS: Readonly<Record<string, number>> = {
  ...{ ArrowDown: 1, ArrowUp: -1, PageDown: 5, PageUp: -5, Home: -1_000_000, End: 1_000_000 },
}

/** Which spot an element is: Space and Enter on what else a slip holds are its own. */
function spotAt(el: HTMLElement): { column: number; on: Spot } | null {
  const column = Number(el.closest<HTMLElement>('[data-column]')?.dataset['column'] ?? -1)
  if (column < 0) return null
  if (el instanceof HTMLInputElement && el.type !== 'checkbox') return { column, on: 'add' }
  const id = Number(el.dataset['opens'] ?? 0)
  return id ? { column, on: id } : null
}
/** Where keys are on a board, and where arrows lead from there. */
function useWays({ columns, adds, find }: Pick<Board, 'columns' | 'adds' | 'find'>) {
  const cursor = ref<{ column: number; on: Spot }>({ column: 0, on: 'add' })
  const spotsOf = (column: number): Spot[] => [
    ...(columns()[column]?.ids ?? []),
    ...(adds() ? ['add' as const] : []),
  ]
  /** Where Tab comes to: where the keys were, else the first slip there is. */
  const stop = computed((): { column: number; on: Spot } => {
    const { column, on } = cursor.value
    if (on !== 'add' && columns()[column]?.ids.includes(on)) return cursor.value
    const first = columns().findIndex(({ ids }) => ids.length)
    return first < 0 ? { column: 0, on: 'add' } : { column: first, on: columns()[first]!.ids[0]! }
  })
  /** Puts the focus where it is wanted, once that has come. */
  async function go(column: number, on: Spot): Promise<void> {
    cursor.value = { column, on }
    await focusWhenThere(
      () => (spotsOf(column).includes(on) ? find(column, on) : null),
      () => cursor.value.on === on,
    )
  }
  /** To the slip as far down in the next column that has anything to come to. */
  function aside(by: 1 | -1): void {
    const { column, on } = cursor.value
    const at = spotsOf(column).indexOf(on)
    for (let next = column + by; next >= 0 && next < columns().length; next += by) {
      const last = Math.max(0, (columns()[next]?.ids.length ?? 0) - 1)
      const to = spotsOf(next)[Math.min(at, last)]
      if (to !== undefined) return void go(next, to)
    }
  }
  function along(by: number): void {
    const { column, on } = cursor.value
    const spots = spotsOf(column)
    const to = spots[Math.max(0, Math.min(spots.length - 1, spots.indexOf(on) + by))]
    if (to !== undefined) void go(column, to)
  }
  return { cursor, stop, go, aside, along }
}

/** One stop of Tab for a board: arrows lead up and down a column, and to the columns beside it. */
export function useBoardKeys(board: Board) {
  const { cursor, stop, go, aside, along } = useWays(board)
  async function carry(key: string, column: number, id: number): Promise<void> {
    const side = SIDES[key]
    const by = key === 'ArrowUp' ? -1 : key === 'ArrowDown' ? 1 : undefined
    if (side && (await board.step(column, id, side))) await go(column + side, id)
    else if (by && (await board.shift(column, id, by))) await go(column, id)
  }
  function lead(key: string): boolean {
    if (SIDES[key]) aside(SIDES[key])
    else if (STEPS[key]) along(STEPS[key])
    else return false
    return true
  }
  function keydown(event: KeyboardEvent): void {
    const at = spotAt(event.target as HTMLElement)
    if (at === null || keepsKey(event) || event.ctrlKey || event.metaKey) return
    cursor.value = at
    const id = at.on === 'add' ? null : at.on
    if (event.altKey) {
      if (id === null || !event.key.startsWith('Arrow')) return
      event.preventDefault()
      void carry(event.key, at.column, id)
    } else if (lead(event.key) || (id !== null && board.act(event, id))) event.preventDefault()
  }
  function came({ target }: FocusEvent): void {
    cursor.value = spotAt(target as HTMLElement) ?? cursor.value
  }
  return { stop, keydown, came }
}
