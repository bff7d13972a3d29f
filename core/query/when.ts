import type { IsoDate } from '../brands.ts'
import { addWorkingDays, type Calendar } from '../calendar/calendar.ts'
import { addDays, fromEpochDay, isoDate, toEpochDay, weekdayOf } from '../calendar/dates.ts'

export const PERIODS = ['day', 'week', 'month', 'quarter', 'year'] as const
export type Period = (typeof PERIODS)[number]

/**
 * A date as a filter names it: a fixed one; so many days from today (working days of the calendar
 * when `working`); or a whole period, `shift` of them from the present one (-1: the last, 1: the
 * next).
 */
export type When =
  | string
  | { readonly days: number; readonly working?: boolean }
  | { readonly period: Period; readonly shift: number }

/**
 * The first and last day that a `When` stands for. Weeks begin on Monday (ISO 8601), quarters in
 * January, April, July and October. The n-th working day is counted strictly after, or before, today,
 * whether or not today is one. @throws Refusal for what is not a date
 */
export function span(
  when: When,
  today: IsoDate,
  calendar: Calendar,
): { first: IsoDate; last: IsoDate } {
  if (typeof when === 'string') {
    const day = isoDate(when)
    return { first: day, last: day }
  }
  if ('days' in when) {
    const day = when.working
      ? when.days === 0
        ? today
        : addWorkingDays(calendar, today, when.days, when.days > 0 ? 'preceding' : 'following')
      : addDays(today, when.days)
    return { first: day, last: day }
  }
  const { period, shift } = when
  if (period === 'day') return span({ days: shift }, today, calendar)
  if (period === 'week') {
    const monday = toEpochDay(today) - (weekdayOf(toEpochDay(today)) - 1) + 7 * shift
    return { first: fromEpochDay(monday), last: fromEpochDay(monday + 6) }
  }
  const months = { month: 1, quarter: 3, year: 12 }[period]
  const index = Number(today.slice(0, 4)) * 12 + Number(today.slice(5, 7)) - 1
  const begin = Math.floor(index / months) * months + shift * months
  const firstOf = (month: number) =>
    isoDate(
      `${String(Math.floor(month / 12)).padStart(4, '0')}-${String((month % 12) + 1).padStart(2, '0')}-01`,
    )
  return { first: firstOf(begin), last: addDays(firstOf(begin + months), -1) }
}
