import type { IsoDate } from '../brands.ts'
import { isWorkingDay, type Calendar } from '../calendar/calendar.ts'
import { addDays } from '../calendar/dates.ts'

export interface Effort {
  /** Remaining minutes. */
  readonly minutes: number
  readonly start: IsoDate | null
  readonly due: IsoDate
}

const LONGEST_SEARCH = 366
const MOST_DAYS = 400

/** The working days of a stretch, both ends included, some four hundred at most. */
function workingDays(from: IsoDate, to: IsoDate, cal: Calendar): IsoDate[] {
  const days: IsoDate[] = []
  for (let day = from; day <= to && days.length < MOST_DAYS; day = addDays(day, 1))
    if (isWorkingDay(cal, day)) days.push(day)
  return days
}

/**
 * Spreads remaining effort evenly over the working days from the later of today and the start to
 * the due; what is already late, or has no working day left, falls on the first working day from
 * today. Returns minutes by date.
 */
export function spread(
  efforts: Iterable<Effort>,
  cal: Calendar,
  today: IsoDate,
): Map<IsoDate, number> {
  const load = new Map<IsoDate, number>()
  let firstFree = today
  for (let i = 0; i < LONGEST_SEARCH && !isWorkingDay(cal, firstFree); i++)
    firstFree = addDays(firstFree, 1)
  for (const { minutes, start, due } of efforts) {
    if (minutes <= 0) continue
    const days = workingDays(start && start > today ? start : today, due, cal)
    if (days.length === 0) days.push(due > firstFree ? due : firstFree)
    for (const day of days) load.set(day, (load.get(day) ?? 0) + minutes / days.length)
  }
  return load
}
