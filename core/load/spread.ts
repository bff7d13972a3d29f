import type { IsoDate } from '../brands.ts'
import { isWorkingDay, type Calendar } from '../calendar/calendar.ts'
import { addDays } from '../calendar/dates.ts'

export interface Effort {
  /** Remaining minutes. */
  readonly minutes: number
  readonly start: IsoDate | null
  readonly due: IsoDate
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
  for (let i = 0; i < 366 && !isWorkingDay(cal, firstFree); i++) firstFree = addDays(firstFree, 1)
  for (const { minutes, start, due } of efforts) {
    if (minutes <= 0) continue
    const days: IsoDate[] = []
    for (
      let day = start && start > today ? start : today;
      day <= due && days.length < 400;
      day = addDays(day, 1)
    )
      if (isWorkingDay(cal, day)) days.push(day)
    if (days.length === 0) days.push(due > firstFree ? due : firstFree)
    for (const day of days) load.set(day, (load.get(day) ?? 0) + minutes / days.length)
  }
  return load
}
