import type { TaskPatch } from '#contract/tasks.ts'
import { taskKeyDoes, type TaskKeyDoes } from '#web/parts/task/task-keys.ts'
import { tickEdit } from '#web/parts/tick.ts'
import { useSelection } from '#web/state/selection.ts'
import { useSession } from '#web/state/session.ts'
import { useTasks } from '#web/state/tasks.ts'
import { useFieldMenu } from './fieldMenu.ts'
import { canSet } from './fields.ts'
import type { Known } from './known.ts'

/** What is done to a task where it is shown in a view; `order` is what stands there, for marking. */
export function useTaskDeeds(known: () => Known, order: () => readonly number[]) {
  const tasks = useTasks()
  const session = useSession()
  const selection = useSelection()
  const menu = useFieldMenu()
  const member = (): boolean => session.me?.may.member === true

  /** Opens what sets a field, at an element; with what was typed, where that is how it was begun. */
  function set(id: number, field: string, target: HTMLElement, typed?: string): void {
    const task = tasks.rows.get(id)
    const may = field === 'state' ? task?.mayWork : member()
    if (!task || !may || !canSet(known(), field)) return
    menu.open({
      target,
      field,
      task,
      ...(typed !== undefined && { typed }),
      apply: (patch: TaskPatch) => tasks.edit(id, patch, {}, (t) => `“${t.title}” is saved.`),
    })
  }
  function tick(id: number): void {
    const task = tasks.rows.get(id)
    if (task?.mayWork) void tasks.edit(id, ...tickEdit(task))
  }
  const mark = (id: number, through: boolean): void =>
    selection.toggle(id, through ? order() : undefined)
  function bulk(): void {
    const days = document.querySelector<HTMLInputElement>('.bulk input')
    days?.focus()
    days?.select()
  }

  function act(does: TaskKeyDoes, id: number, on: HTMLElement): void {
    if ('mark' in does) mark(id, does.mark === 'through')
    else if ('tick' in does) tick(id)
    else if ('bulk' in does) bulk()
    else set(id, does.set, on)
  }
  /** Does what a key does to a task; answers whether it does anything. */
  function key(event: KeyboardEvent, id: number): boolean {
    const does = taskKeyDoes(event)
    if (does) act(does, id, event.target as HTMLElement)
    return does !== null
  }
  return { set, tick, mark, act, key }
}
