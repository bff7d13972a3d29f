import type { OutlineGroup } from '#contract/query.ts'
import type { TaskRow } from '#contract/tasks.ts'
import { useMessages } from '#web/state/messages.ts'
import { useTasks } from '#web/state/tasks.ts'
import { editForGroup } from './fields.ts'

/**
 * Puts a task under another head of a view that is grouped by a field: the edit that the head asks
 * for, shown at once as `shown` says. Answers whether the task is there.
 */
export function useRegroup(field: () => string) {
  const tasks = useTasks()
  const messages = useMessages()
  return async (
    task: TaskRow,
    from: OutlineGroup,
    to: OutlineGroup,
    shown: Partial<TaskRow> = {},
  ): Promise<boolean> => {
    const patch = editForGroup(field(), to.key, from.key, task)
    if (!patch) {
      messages.fault('Nothing can be dropped there: what stands there follows from something else.')
      return false
    }
    return tasks.edit(task.id, patch, shown, (t) => `“${t.title}” is under ${to.name} now.`)
  }
}
