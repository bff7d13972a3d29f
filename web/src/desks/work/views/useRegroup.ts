import type { OutlineGroup } from '#contract/query.ts'
import type { TaskRow } from '#contract/tasks.ts'
import { useMessages } from '#web/state/messages.ts'
import { useTasks } from '#web/state/tasks.ts'
import { editForGroup } from '#web/fields/fields.ts'
import type { Known } from '#web/fields/known.ts'

/**
 * Puts a task under another head of a view that is grouped by a field: the edit that the head asks
 * for, shown at once as `shown` says. Answers whether the task is there.
 */
export function useRegroup(known: () => Known, field: () => string) {
  const tasks = useTasks()
  const messages = useMessages()
  return async (
    task: TaskRow,
    from: OutlineGroup,
    to: OutlineGroup,
    shown: Partial<TaskRow> = {},
  ): Promise<boolean> => {
    const patch = editForGroup(known(), field(), { key: to.key, from: from.key }, task)
    if (!patch) {
      messages.fault('Nothing can be dropped there: what stands there follows from something else.')
      return false
    }
    return tasks.edit(task.id, patch, shown, (t) => `“${t.title}” is under ${to.name} now.`)
  }
}
