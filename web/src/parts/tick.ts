import type { TaskPatch, TaskRow, TaskSheet } from '#contract/tasks.ts'

/** What ticking a task does, what it looks like meanwhile, and what is said of it. */
export function tickEdit(
  task: TaskRow,
): [TaskPatch, Partial<TaskRow>, (after: TaskSheet) => string] {
  const open = task.closedAt === null
  return [
    { state: open ? 'done' : 'not-started' },
    open
      ? task.doneBy === 'any' || task.assignees.length < 2
        ? { state: 'done', closedAt: 0 }
        : {}
      : { state: 'not-started', closedAt: null },
    (after) => {
      if (after.state === 'done') return `“${after.title}” is done.`
      if (!open) return `“${after.title}” is open again.`
      const left = after.assignees.filter((a) => a.doneAt === null).map((a) => a.name)
      const have = left.length === 1 ? 'has' : 'have'
      return `Your part of “${after.title}” is done; ${left.join(' and ')} still ${have} theirs.`
    },
  ]
}
