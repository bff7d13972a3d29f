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

/** A time of day by 24 hours, "15:00", or by 12, "3:00 pm". */
export function sayTime(time: string, clock: 12 | 24 = 24): string {
  if (clock === 24) return time
  const hour = Number(time.slice(0, 2))
  return `${hour % 12 || 12}${time.slice(2)} ${hour < 12 ? 'am' : 'pm'}`
}

/** A date, and a time on it where there is one: "Wed 18 Nov, 15:00". */
export const sayDateAt = (
  date: string,
  time: string | null,
  { today, clock }: { readonly today?: string; readonly clock?: 12 | 24 },
): string => [sayDate(date, today), time && sayTime(time, clock)].filter(Boolean).join(', ')

/** Minutes as "45m", "2h", "1h 30m". */
export function sayMinutes(minutes: number): string {
  const h = Math.floor(minutes / 60)
  const m = Math.round(minutes % 60)
  return h === 0 ? `${m}m` : m === 0 ? `${h}h` : `${h}h ${m}m`
}

export const plural = (n: number, one: string, many = `${one}s`): string =>
  `${n} ${n === 1 ? one : many}`

/** How long somebody is away: “away until Fri 4 Dec”. */
export const awayWord = (until: string): string => `away until ${sayDate(until, until)}`
