import type { IsoDate } from '../brands.ts'
import { toEpochDay, weekdayOf } from '../calendar/dates.ts'
import { DAY_NAMES, MONTH_NAMES, short } from './names.ts'

const dayNameOf = (date: string): string =>
  DAY_NAMES[weekdayOf(toEpochDay(date.slice(0, 10) as IsoDate)) - 1]!

/** A date as it is said: "Wed 18 Nov", with the year when it is not the year of `today`. */
export function sayDate(date: string, today?: string): string {
  const [y, m, d] = date.slice(0, 10).split('-').map(Number) as [number, number, number]
  const year = today !== undefined && today.slice(0, 4) === date.slice(0, 4) ? '' : ` ${y}`
  return `${short(dayNameOf(date))} ${d} ${short(MONTH_NAMES[m - 1]!)}${year}`
}

/** "Monday, 23 November". */
export function sayLongDate(date: string): string {
  const [, m, d] = date.slice(0, 10).split('-').map(Number) as [number, number, number]
  return `${dayNameOf(date)}, ${d} ${MONTH_NAMES[m - 1]}`
}

export const sayMonth = (date: string): string => MONTH_NAMES[+date.slice(5, 7) - 1] ?? ''

/** Minutes as "45m", "2h", "1h 30m". */
export function sayMinutes(minutes: number): string {
  const h = Math.floor(minutes / 60)
  const m = Math.round(minutes % 60)
  return h === 0 ? `${m}m` : m === 0 ? `${h}h` : `${h}h ${m}m`
}

export const plural = (n: number, one: string, many = `${one}s`): string =>
  `${n} ${n === 1 ? one : many}`
