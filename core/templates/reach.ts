import { calendar, workingDaysBetween } from '../calendar/calendar.ts'
import { addDays, isoDate } from '../calendar/dates.ts'
import { plan } from './plan.ts'
import type { Template } from './template.ts'

/** A week without holidays, from whose every day a template is laid: calendar days reach further on some. */
const MONDAY = isoDate('2026-06-01')
const PLAIN = calendar()

/**
 * How many working days before its anchor the first task of a template begins, or is due where it
 * has no start; 0 where nothing comes before. Made later than that, something of it is late at birth.
 */
export function reachOf(template: Template): number {
  const anchors = [0, 1, 2, 3, 4, 5, 6].map((day) => addDays(MONDAY, day))
  return Math.max(
    0,
    ...anchors.flatMap((anchor) =>
      plan({ template, anchor, firm: PLAIN }).tasks.map(({ start, due }) =>
        workingDaysBetween(PLAIN, start ?? due, anchor),
      ),
    ),
  )
}
