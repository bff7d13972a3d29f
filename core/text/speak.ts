import type { IsoDate } from '../brands.ts'
import { toEpochDay, weekdayOf } from '../calendar/dates.ts'

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
const LONG_DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
const LONG_MONTHS = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
]

/** A date as it is said: "Wed 18 Nov", with the year when it is not the year of `today`. */
export function sayDate(date: string, today?: string): string {
  const [y, m, d] = date.slice(0, 10).split('-').map(Number) as [number, number, number]
  const year = today !== undefined && today.slice(0, 4) === date.slice(0, 4) ? '' : ` ${y}`
  return `${DAYS[weekdayOf(toEpochDay(date.slice(0, 10) as IsoDate)) - 1]} ${d} ${MONTHS[m - 1]}${year}`
}

/** "Monday, 23 November". */
export function sayLongDate(date: string): string {
  const [, m, d] = date.slice(0, 10).split('-').map(Number) as [number, number, number]
  return `${LONG_DAYS[weekdayOf(toEpochDay(date.slice(0, 10) as IsoDate)) - 1]}, ${d} ${LONG_MONTHS[m - 1]}`
}

export const sayMonth = (date: string): string => LONG_MONTHS[+date.slice(5, 7) - 1] ?? ''

/** Minutes as "45m", "2h", "1h 30m". */
export function sayMinutes(minutes: number): string {
  const h = Math.floor(minutes / 60)
  const m = Math.round(minutes % 60)
  return h === 0 ? `${m}m` : m === 0 ? `${h}h` : `${h}h ${m}m`
}

export const plural = (n: number, one: string, many = `${one}s`): string =>
  `${n} ${n === 1 ? one : many}`
