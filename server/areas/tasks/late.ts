import { sql, type SQL } from 'drizzle-orm'
import type { IsoDate, LocalTime } from '#core/brands.ts'
import { tasks } from '../../database/tables/work.ts'

/** The firm's day and time, as lateness is told by. */
export interface LocalNow {
  readonly date: IsoDate
  readonly time: LocalTime
}

/**
 * A task is late from the moment its due was missed: the end of its day where it has no time. What
 * has no due, or is closed, is not late. `lateIn` says the same in SQL.
 */
export const isLate = (
  now: LocalNow,
  task: { due: string | null; dueTime: string | null; closedAt: number | null },
): boolean =>
  task.closedAt === null &&
  task.due !== null &&
  (task.due < now.date ||
    (task.due === now.date && task.dueTime !== null && task.dueTime <= now.time))

/** `isLate` over the tasks that a question asks; 1 or 0, never null. */
export const lateIn = (now: { date: string; time: string }): SQL<boolean> =>
  sql`(${tasks.closedAt} is null and coalesce(${tasks.due} < ${now.date} or (${tasks.due} = ${now.date}
    and ${tasks.dueTime} <= ${now.time}), 0))`
