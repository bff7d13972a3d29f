import type { Instant, IsoDate, LocalTime } from '../brands.ts'
import { isWorkingDay, workingDayAfter, type Calendar } from '../calendar/calendar.ts'
import { addDays, toInstant, toLocal } from '../calendar/dates.ts'
import { offsetDay, type DateOffset } from './moment.ts'

/** When reminders come to somebody, by their own days, their own zone and their quiet hours. */

/** Hours in which nobody wants to be told, from a time of day to another; they may pass midnight. */
export interface Quiet {
  readonly from: LocalTime
  readonly to: LocalTime
}
/** Somebody's own time. */
export interface OwnTime {
  readonly zone: string
  readonly calendar: Calendar
  readonly quiet: Quiet | null
}

/** A moment put off to the end of the quiet hours that it falls into. */
export function afterQuiet(at: number, { zone, quiet }: Pick<OwnTime, 'zone' | 'quiet'>): number {
  if (!quiet || quiet.from === quiet.to) return at
  const { date, time: stamp } = toLocal(at, zone)
  const time = stamp.slice(0, 5)
  const over = quiet.from > quiet.to
  const inside = over
    ? time >= quiet.from || time < quiet.to
    : time >= quiet.from && time < quiet.to
  if (!inside) return at
  return toInstant(over && time >= quiet.from ? addDays(date, 1) : date, quiet.to, zone)
}

/** The first day of a reminder: counted in somebody's own working days from a date, or as it was set. */
export const firstDay = (
  offset: Omit<DateOffset, 'time'>,
  date: IsoDate,
  { calendar }: Pick<OwnTime, 'calendar'>,
): IsoDate => offsetDay(offset, date, calendar)

/** The moment that somebody is reminded on a day, at a time of day that is theirs. */
export const momentOn = (day: IsoDate, time: LocalTime, own: OwnTime): Instant =>
  afterQuiet(toInstant(day, time, own.zone), own) as Instant

/** The day and moment of a reminder. */
export interface Turn {
  readonly day: IsoDate
  readonly at: number
}
/**
 * When somebody is reminded next after a moment: on the first day, or daily from it on, each of their
 * working days (the first day whatever it is); null where that is past.
 */
export function nextTurn(
  {
    first,
    time,
    daily,
  }: { readonly first: IsoDate; readonly time: LocalTime; readonly daily: boolean },
  own: OwnTime,
  after: number,
): Turn | null {
  const at = momentOn(first, time, own)
  if (at > after) return { day: first, at }
  if (!daily) return null
  const today = toLocal(after, own.zone).date
  let day = today > first ? today : first
  if (day === first || !isWorkingDay(own.calendar, day)) day = workingDayAfter(own.calendar, day, 1)
  const next = momentOn(day, time, own)
  if (next > after) return { day, at: next }
  const later = workingDayAfter(own.calendar, day, 1)
  return { day: later, at: momentOn(later, time, own) }
}
