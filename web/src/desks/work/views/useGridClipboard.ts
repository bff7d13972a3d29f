import type { Ref } from 'vue'
import type { ViewDefinition } from '#contract/query.ts'
import { post } from '#web/api/client.ts'
import { sayField } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'
import { useAttempt } from '#web/state/attempt.ts'
import { fetched } from '#web/state/later.ts'
import { useMessages } from '#web/state/messages.ts'
import { useSelection } from '#web/state/selection.ts'
import { useTasks } from '#web/state/tasks.ts'
import { asSheet, idsIn, type Item } from './grid-items.ts'

/** Copying and pasting what spreadsheets copy, from and over the cells of a table. */
export function useGridClipboard(
  view: () => { def: ViewDefinition; known: Known },
  items: Readonly<Ref<readonly Item[]>>,
  { cursor, pasted }: { cursor: Readonly<Ref<{ row: number; at: number }>>; pasted: () => void },
) {
  const tasks = useTasks()
  const selection = useSelection()
  const messages = useMessages()
  const { attempt } = useAttempt()
  const fields = () => ['title', ...view().def.columns.map((column) => column.field)]
  /** Not where somebody types. */
  const isOurs = (event: ClipboardEvent) =>
    view().def.kind === 'table' && (event.target as HTMLElement).tagName !== 'INPUT'

  const words = (id: number, names: readonly string[]): string[] => {
    const task = tasks.rows.get(id)
    return names.map((name) => (task ? sayField(view().known, name, task) : ''))
  }
  function copied(): string[][] {
    const marked = idsIn(items.value).filter((id) => selection.has(id))
    if (marked.length) return marked.map((id) => words(id, fields()))
    const item = items.value[cursor.value.row]
    return item?.kind === 'row' && tasks.rows.has(item.id)
      ? [words(item.id, [fields()[cursor.value.at]!])]
      : []
  }
  function copy(event: ClipboardEvent): void {
    if (!isOurs(event)) return
    const rows = copied()
    if (!rows.length) return
    event.preventDefault()
    event.clipboardData?.setData('text/plain', asSheet(rows))
  }
  async function paste(event: ClipboardEvent): Promise<void> {
    if (!isOurs(event)) return
    const text = event.clipboardData?.getData('text/plain') ?? ''
    const item = items.value[cursor.value.row]
    if (!text || item?.kind !== 'row') return
    event.preventDefault()
    const ids = idsIn(items.value)
    const { def, known } = view()
    await attempt(async () => {
      const { pasted: readPasted } = await fetched(import('./paste.ts'))
      const { edits, make, faults } = readPasted(
        text,
        fields().slice(cursor.value.at),
        ids.slice(ids.indexOf(item.id)).map((id) => tasks.rows.get(id)),
        known,
        def.scope,
      )
      if (faults.length) {
        const more = faults.length > 1 ? ` And ${faults.length - 1} more.` : ''
        throw new Error(`${faults[0]}${more} Nothing was pasted.`)
      }
      const done = await post<{ count: number }>('/tasks/edits', { edits, make })
      messages.did(`${done.count} ${done.count === 1 ? 'task' : 'tasks'} pasted over.`, done)
      pasted()
    })
  }
  return { copy, paste }
}
