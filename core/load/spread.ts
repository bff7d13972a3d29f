import type { IsoDate } from '../brands.ts'
import {
  isWorkingDay,
  workingDayAfter,
  workingDaysBetween,
  type Calendar,
} from '../calendar/calendar.ts'
import { addDays } from '../calendar/dates.ts'

export interface Effort {
  /** Remaining minutes. */
  readonly minutes: number
  readonly start: IsoDate | null
  readonly due: IsoDate
}

const LONGEST_SEARCH = 366
const MOST_DAYS = 400

/** Days that are asked about, both included. */
export interface Window {
  readonly first: IsoDate
  readonly last: IsoDate
}
const later = (a: IsoDate, b: IsoDate): IsoDate => (a > b ? a : b)
const sooner = (a: IsoDate, b: IsoDate): IsoDate => (a < b ? a : b)

/** How many working days a stretch has, both ends included, four hundred at most; and its last. */
function stretch(cal: Calendar, from: IsoDate, to: IsoDate): { count: number; last: IsoDate } {
  const count = from > to ? 0 : workingDaysBetween(cal, addDays(from, -1), to)
  if (count <= MOST_DAYS) return { count, last: to }
  return { count: MOST_DAYS, last: workingDayAfter(cal, addDays(from, -1), MOST_DAYS) }
}

/**
 * Spreads remaining effort evenly over the working days from the later of today and the start to
 * the due; what is already late, or has no working day left, falls on the first working day from
 * today. Returns minutes by date, of the days of a window: the cost is that of the window, however
 * far away a due is.
 */
export function spread(
  efforts: Iterable<Effort>,
  cal: Calendar,
  today: IsoDate,
  { first, last }: Window,
): Map<IsoDate, number> {
  const load = new Map<IsoDate, number>()
  const add = (day: IsoDate, minutes: number) => load.set(day, (load.get(day) ?? 0) + minutes)
  let firstFree = today
  for (let i = 0; i < LONGEST_SEARCH && !isWorkingDay(cal, firstFree); i++)
    firstFree = addDays(firstFree, 1)
  for (const { minutes, start, due } of efforts) {
    if (minutes <= 0) continue
    const from = start ? later(start, today) : today
    const { count, last: end } = stretch(cal, from, due)
    if (count === 0) add(later(due, firstFree), minutes)
    for (let day = later(from, first); count > 0 && day <= sooner(end, last); day = addDays(day, 1))
      if (isWorkingDay(cal, day)) add(day, minutes / count)
  }
  return load
}
