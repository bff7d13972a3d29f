import { computed, nextTick, ref, type Ref } from 'vue'
import type { ViewDefinition } from '#contract/query.ts'
import { useFieldMenu } from '#web/fields/fieldMenu.ts'
import { useSelection } from '#web/state/selection.ts'
import { idsIn, type Item } from './grid-items.ts'
import { keyDoes } from './grid-keys.ts'

interface Doing {
  /** Brings a line into sight. */
  readonly show: (index: number) => void
  /** The element of a line in sight. */
  readonly lineOf: (index: number) => HTMLElement | null | undefined
  readonly edit: (id: number, field: string, at: HTMLElement, typed?: string) => void
  readonly fold: (id: number) => void
  readonly shift: (id: number, by: 1 | -1) => Promise<boolean>
}

/** Keys go from cell to cell; in a table typing begins an edit, in a list Enter opens the task. */
export function useGridKeys(
  def: () => ViewDefinition,
  items: Readonly<Ref<readonly Item[]>>,
  { show, lineOf, edit, fold, shift }: Doing,
) {
  const selection = useSelection()
  const menu = useFieldMenu()
  const cells = computed(() => def().kind === 'table')
  const cursor = ref<{ row: number; at: number }>({ row: 0, at: 0 })
  const rows = computed(() => items.value.flatMap((i, n) => (i.kind === 'row' ? [n] : [])))

  async function go(step: number, side = 0): Promise<void> {
    const position = rows.value.findIndex((n) => n >= cursor.value.row)
    const row =
      rows.value[Math.max(0, Math.min(rows.value.length - 1, Math.max(0, position) + step))]
    if (row === undefined) return
    const at = Math.max(0, Math.min(def().columns.length, cursor.value.at + side))
    cursor.value = { row, at }
    show(row)
    await nextTick()
    const cell = cells.value || at > 0 ? `[data-at="${at}"]` : '.name'
    lineOf(row)?.querySelector<HTMLElement>(cell)?.focus()
  }
  async function shiftRow(row: number, id: number, by: 1 | -1): Promise<void> {
    if (!(await shift(id, by))) return
    cursor.value = { ...cursor.value, row: row + by }
    setTimeout(() => void go(0), 250)
  }
  /** Does what a key does on a row; answers whether it does anything. */
  function rowKey(event: KeyboardEvent, row: number, id: number): boolean {
    const { at } = cursor.value
    const does = keyDoes(event, { cells: cells.value, at, columns: def().columns.length })
    if (!does) return false
    if ('go' in does) void go(...does.go)
    else if ('shift' in does) void shiftRow(row, id, does.shift)
    else if ('mark' in does)
      selection.toggle(id, does.mark === 'through' ? idsIn(items.value) : undefined)
    else if ('fold' in does) fold(id)
    else {
      const field = at === 0 ? 'title' : def().columns[at - 1]!.field
      edit(id, field, event.target as HTMLElement, does.edit)
    }
    return true
  }
  function keydown(event: KeyboardEvent): void {
    const from = event.target as HTMLElement
    if (from.tagName === 'INPUT' && (from as HTMLInputElement).type !== 'checkbox') return
    if (menu.ask && menu.sink) {
      event.preventDefault()
      menu.sink(event)
      return
    }
    const row = Number(from.closest<HTMLElement>('[data-index]')?.dataset['index'] ?? -1)
    const item = items.value[row]
    if (item?.kind !== 'row') return
    const at = Number(from.closest<HTMLElement>('[data-at]')?.dataset['at'] ?? 0)
    cursor.value = { row, at }
    if (rowKey(event, row, item.id)) event.preventDefault()
  }
  return { cursor, keydown }
}
