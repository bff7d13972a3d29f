import { computed, ref, type Ref } from 'vue'
import type { ViewDefinition } from '#contract/query.ts'
import { useFieldMenu } from '#web/fields/fieldMenu.ts'
import type { useTaskDeeds } from '#web/fields/useTaskDeeds.ts'
import { focusWhenThere } from '#web/parts/focus-when-there.ts'
import { keepsKey } from '#web/parts/types-in.ts'
import type { Item, Row } from './grid-items.ts'
import { keyDoes, type KeyDoes } from './grid-keys.ts'

interface Doing {
  /** Brings a line into sight. */
  readonly show: (index: number) => void
  /** The element of a line in sight. */
  readonly lineOf: (index: number) => HTMLElement | null | undefined
  readonly deeds: ReturnType<typeof useTaskDeeds>
  /** Folds what is under a task, or under the head of a group. */
  readonly fold: (item: Item) => void
  readonly shift: (id: number, by: 1 | -1) => Promise<boolean>
}
const within = (n: number, count: number) => Math.max(0, Math.min(count - 1, n))
/** What takes the focus in a line, by what it is; `at` is the cell of a row. */
const TARGETS: Readonly<Record<Item['kind'], (at: number, cells: boolean) => string>> = {
  head: () => 'button',
  add: () => 'input',
  row: (at, cells) => (cells || at > 0 ? `[data-at="${at}"]` : '.name'),
}

interface Grid {
  readonly def: () => ViewDefinition
  readonly cursor: Ref<{ row: number; at: number }>
  /** Puts the focus back to where the cursor is. */
  readonly again: () => Promise<void>
}
/** What keys do to a task, other than to lead on from it. */
function useDeeds(
  { def, cursor, again }: Grid,
  { deeds, fold, shift }: Pick<Doing, 'deeds' | 'fold' | 'shift'>,
) {
  async function shiftRow(row: number, id: number, by: 1 | -1): Promise<void> {
    if (!(await shift(id, by))) return
    cursor.value = { ...cursor.value, row: row + by }
    setTimeout(() => void again(), 250)
  }
  return (does: Exclude<KeyDoes, { go: unknown }>, item: Row, on: HTMLElement): void => {
    const { row, at } = cursor.value
    if ('shift' in does) void shiftRow(row, item.id, does.shift)
    else if ('fold' in does) fold(item)
    else if ('edit' in does)
      deeds.set(item.id, at === 0 ? 'title' : def().columns[at - 1]!.field, on, does.edit)
    else deeds.act(does, item.id, on)
  }
}

/**
 * Keys go from line to line, heads and lines to add among them, and from cell to cell; in a table
 * typing begins an edit, in a list Enter opens the task and letters set its fields.
 */
export function useGridKeys(
  def: () => ViewDefinition,
  items: Readonly<Ref<readonly Item[]>>,
  doing: Doing,
) {
  const { show, lineOf, fold } = doing
  const menu = useFieldMenu()
  const cells = computed(() => def().kind === 'table')
  const cursor = ref<{ row: number; at: number }>({ row: 0, at: 0 })

  /** Puts the focus into a line, once it is there: what was far away comes with the next frames. */
  async function focus(row: number): Promise<void> {
    const item = items.value[row]
    if (!item) return
    const target = TARGETS[item.kind](cursor.value.at, cells.value)
    show(row)
    await focusWhenThere(
      () => lineOf(row)?.querySelector<HTMLElement>(target),
      () => cursor.value.row === row,
    )
  }
  function go(step: number, side = 0): Promise<void> {
    const row = within(cursor.value.row + step, items.value.length)
    const at = within(cursor.value.at + side, def().columns.length + 1)
    cursor.value = { row, at }
    return focus(row)
  }
  const act = useDeeds({ def, cursor, again: () => go(0) }, doing)
  /** Does what a key does in a line; answers whether it does anything. */
  function lineKey(event: KeyboardEvent, item: Item): boolean {
    const { at } = cursor.value
    const does = keyDoes(event, { cells: cells.value, at, columns: def().columns.length })
    if (!does) return false
    if ('go' in does) {
      const aside = item.kind !== 'row' && does.go[0] === 0
      if (!aside) void go(...does.go)
      else if (item.kind === 'head') fold(item)
      return !aside || item.kind === 'head'
    }
    if (item.kind !== 'row') return false
    act(does, item, event.target as HTMLElement)
    return true
  }
  function keydown(event: KeyboardEvent): void {
    const from = event.target as HTMLElement
    if (keepsKey(event)) return
    if (menu.ask && menu.sink) {
      event.preventDefault()
      menu.sink(event)
      return
    }
    const row = Number(from.closest<HTMLElement>('[data-index]')?.dataset['index'] ?? -1)
    const item = items.value[row]
    if (!item) return
    const at = Number(from.closest<HTMLElement>('[data-at]')?.dataset['at'] ?? 0)
    cursor.value = { row, at: item.kind === 'row' ? at : cursor.value.at }
    if (lineKey(event, item)) event.preventDefault()
  }
  return { cursor, keydown }
}
