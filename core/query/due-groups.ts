import type { IsoDate } from '../brands.ts'
import { addDays, isoWeek, toEpochDay, weekdayOf } from '../calendar/dates.ts'
import { sayMonth } from '../text/speak.ts'

/** Where a due date stands from today, in the order people read it. */
export const TODAY_GROUPS = [
  'slipped',
  'today',
  'tomorrow',
  'week',
  'next-week',
  'later',
  'no-date',
] as const
export type TodayGroup = (typeof TODAY_GROUPS)[number]
export const TODAY_NAMES: Readonly<Record<TodayGroup, string>> = {
  slipped: 'Slipped',
  today: 'Today',
  tomorrow: 'Tomorrow',
  week: 'This week',
  'next-week': 'Next week',
  later: 'Later',
  'no-date': 'No date',
}

/**
 * The group of a due date; `late` is true where a time of today has passed. Weeks end on Sunday
 * (ISO 8601).
 */
export function dueGroup(due: string | null, late: boolean, today: IsoDate): TodayGroup {
  if (due === null) return 'no-date'
  if (due < today || late) return 'slipped'
  if (due === today) return 'today'
  if (due === addDays(today, 1)) return 'tomorrow'
  const sunday = addDays(today, 7 - weekdayOf(toEpochDay(today)))
  if (due <= sunday) return 'week'
  return due <= addDays(sunday, 7) ? 'next-week' : 'later'
}

/** The Monday of a date's week. */
export const mondayOf = (date: string): IsoDate =>
  addDays(date as IsoDate, 1 - weekdayOf(toEpochDay(date as IsoDate)))

/** A week as it heads a group: "Week 48, 23 to 29 November". Numbers are those of ISO 8601. */
export function sayWeek(monday: string): string {
  const sunday = addDays(monday as IsoDate, 6)
  const day = (date: string) => `${+date.slice(8)}`
  const from =
    monday.slice(5, 7) === sunday.slice(5, 7) ? day(monday) : `${day(monday)} ${sayMonth(monday)}`
  return `Week ${isoWeek(monday as IsoDate).week}, ${from} to ${day(sunday)} ${sayMonth(sunday)}`
}
