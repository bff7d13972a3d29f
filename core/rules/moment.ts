import type { Instant, IsoDate, LocalTime } from '../brands.ts'
import {
  workingDayAfter,
  workingDayBefore,
  type Calendar,
  type DayUnit,
} from '../calendar/calendar.ts'
import { addDays, toInstant } from '../calendar/dates.ts'

/** So many days before or after a date, at a time of day; no days are the date itself. */
export interface DateOffset {
  readonly days: number
  readonly unit: DayUnit
  readonly side: 'before' | 'after'
  readonly time: LocalTime
}

/** The day that an offset means: the n-th working or calendar day strictly before or after. */
export function offsetDay(
  { days, unit, side }: Omit<DateOffset, 'time'>,
  date: IsoDate,
  cal: Calendar,
): IsoDate {
  if (days === 0) return date
  if (unit === 'calendar') return addDays(date, side === 'before' ? -days : days)
  return (side === 'before' ? workingDayBefore : workingDayAfter)(cal, date, days)
}
/** The moment that an offset means, in a zone. */
export const offsetAt = (
  offset: DateOffset,
  date: IsoDate,
  { calendar, zone }: { readonly calendar: Calendar; readonly zone: string },
): Instant => toInstant(offsetDay(offset, date, calendar), offset.time, zone)
