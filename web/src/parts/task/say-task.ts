import type { TaskRow } from '#contract/tasks.ts'
import { sayDate, sayDateAt } from '#web/parts/say.ts'

/** By when a task is said to be: “due Mon 23 Nov, 15:00”, “from Mon 23 Nov to Fri 27 Nov”. */
function sayWhen(task: TaskRow, saying: { today: string; clock?: 12 | 24 | undefined }): string {
  if (!task.due) return 'no date'
  const due = sayDateAt(task.due, task.dueTime, saying)
  return task.start && task.start !== task.due
    ? `from ${sayDate(task.start, saying.today)} to ${due}`
    : `due ${due}`
}
const sayLate = ({ late, daysLate }: TaskRow): string =>
  !late ? '' : daysLate ? `${daysLate} working ${daysLate === 1 ? 'day' : 'days'} late` : 'late'

/**
 * A task as whoever cannot see its place, colour and marks hears it: its title, whose it is, its
 * state, when, how late it is, who is on it.
 */
export const sayTask = (
  task: TaskRow,
  saying: { today: string; clock?: 12 | 24 | undefined },
): string =>
  [
    task.title,
    task.client?.short ?? task.project?.name,
    task.stateName,
    sayWhen(task, saying),
    sayLate(task),
    task.assignees.map(({ name }) => name).join(' and ') || 'nobody on it',
  ]
    .filter(Boolean)
    .join(', ')

/** Tells tasks of like name apart: by their client, else by their project; others need nothing. */
export function apartOf(tasks: readonly TaskRow[]): (task: TaskRow) => string {
  const alike = new Map<string, number>()
  for (const { title } of tasks) alike.set(title, (alike.get(title) ?? 0) + 1)
  return ({ title, client, project }) =>
    (alike.get(title) ?? 0) > 1 ? (client?.short ?? project?.name ?? '') : ''
}
