import { sql, type SQL } from 'drizzle-orm'
import type { IsoDate, LocalTime } from '#core/brands.ts'
import { addWorkingDays } from '#core/calendar/calendar.ts'
import type { Asked, Now } from '#core/conditions/ask.ts'
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
type At = Pick<Now, 'today' | 'calendar'> & { readonly time: string }
export const lateOn = ({ today, time }: At): SQL<boolean> => lateIn({ date: today, time })

/** Further back than this nobody counts. */
const MOST = 20_000
const [TRUE, FALSE] = [sql`1`, sql`0`]

/**
 * Tests of working days late. A task is at least n working days late when its due lies before the
 * n-th working day counted back from today, today included.
 */
export function atLeastDaysLate(now: At): (asked: Asked) => SQL {
  const atLeast = (n: number): SQL => {
    if (n <= 0) return TRUE
    if (n > MOST) return FALSE
    const day = addWorkingDays(now.calendar, now.today, 1 - n, 'preceding')
    return sql`(${lateOn(now)} and ${tasks.due} < ${day})`
  }
  const below = (n: number): SQL => sql`not ${atLeast(n)}`
  return (asked) => {
    if (asked.of !== 'amount') return TRUE
    const { by, number: n } = asked
    switch (by) {
      case 'at-least':
        return atLeast(Math.ceil(n))
      case 'above':
        return atLeast(Math.floor(n) + 1)
      case 'at-most':
        return below(Math.floor(n) + 1)
      case 'below':
        return below(Math.ceil(n))
      case 'is':
        return Number.isInteger(n) && n >= 0 ? sql`(${atLeast(n)} and ${below(n + 1)})` : FALSE
    }
  }
}
