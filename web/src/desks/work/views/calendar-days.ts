import type { TaskRow } from '#contract/tasks.ts'
import { mondayOf } from '#core/query/due-groups.ts'
import { sayDate, sayLongDate, sayMonth } from '#web/parts/say.ts'
import { daysBetween, plusDays } from './span.ts'

/** Which days a calendar sheet shows, and how it is leafed through. */

export type Sheet = 'month' | 'week' | 'day'
export interface Days {
  readonly first: string
  readonly last: string
}

/** What lies on a calendar in lanes: a task and the days it lies across. */
export interface Lying {
  readonly id: number
  readonly task: TaskRow
  readonly start: string
  readonly due: string
}

/** The days of the sheet that a day lies on: whole weeks, from Monday on, or that day alone. */
export function daysOf(sheet: Sheet, at: string): Days {
  if (sheet === 'day') return { first: at, last: at }
  if (sheet === 'week') return { first: mondayOf(at), last: plusDays(mondayOf(at), 6) }
  // Four days after the 28th is always in the next month.
  const next = plusDays(`${at.slice(0, 7)}-28`, 4).slice(0, 7)
  const lastMonday = mondayOf(plusDays(`${next}-01`, -1))
  return { first: mondayOf(`${at.slice(0, 7)}-01`), last: plusDays(lastMonday, 6) }
}
/** The first days of the rows of a sheet. */
export function rowsOf(sheet: Sheet, { first, last }: Days): string[] {
  const rows = sheet === 'month' ? Math.round((daysBetween(first, last) + 1) / 7) : 1
  return Array.from({ length: rows }, (_, i) => plusDays(first, i * 7))
}
/** A day on the sheet after, or before. */
export function leaf(sheet: Sheet, at: string, by: 1 | -1): string {
  if (sheet === 'day') return plusDays(at, by)
  if (sheet === 'week') return plusDays(at, 7 * by)
  return `${plusDays(`${at.slice(0, 7)}-15`, 30 * by).slice(0, 7)}-01`
}
/** What a sheet is headed. */
export function headingOf(sheet: Sheet, at: string, today: string): string {
  if (sheet === 'day') return sayLongDate(at)
  const { first, last } = daysOf(sheet, at)
  if (sheet === 'week') return `${sayDate(first, today)} to ${sayDate(last, today)}`
  return `${sayMonth(at)} ${at.slice(0, 4)}`
}
