import type { IsoDate } from '../brands.ts'
import { isoWeek } from '../calendar/dates.ts'
import { MONTH_NAMES } from './names.ts'
import { periodStart } from '../recurrence/schedule.ts'

/**
 * A date in a pattern: yyyy yy MMMM MMM MM M dd d Q ww (ISO week); other letters stand for
 * themselves.
 */
export function formatPattern(date: IsoDate, pattern: string): string {
  const [y, m, d] = date.split('-').map(Number) as [number, number, number]
  const month = MONTH_NAMES[m - 1]!
  const two = (n: number) => String(n).padStart(2, '0')
  return pattern.replace(/yyyy|yy|MMMM|MMM|MM|M|dd|d|Q|ww/g, (token) => {
    switch (token) {
      case 'yyyy':
        return String(y)
      case 'yy':
        return two(y % 100)
      case 'MMMM':
        return month
      case 'MMM':
        return month.slice(0, 3)
      case 'MM':
        return two(m)
      case 'M':
        return String(m)
      case 'dd':
        return two(d)
      case 'd':
        return String(d)
      case 'Q':
        return `Q${Math.floor((m + 2) / 3)}`
      default:
        return two(isoWeek(date).week)
    }
  })
}

/** The period an occurrence serves: the one before its date, the one it is in, or the one after. */
export interface ServedPeriod {
  readonly of: 'week' | 'month' | 'quarter' | 'year'
  readonly which: 'before' | 'same' | 'after'
}

/** The first day of the period that an occurrence on `date` serves. */
export function servedPeriod(date: IsoDate, period: ServedPeriod): IsoDate {
  const own = periodStart(date, period.of)
  if (period.which === 'same') return own
  const step = period.which === 'before' ? -1 : 1
  // Far enough to leave the period for sure, near enough not to pass the neighbour.
  const days = { week: 7, month: 31, quarter: 92, year: 366 }[period.of]
  const shifted = new Date(
    Date.UTC(+own.slice(0, 4), +own.slice(5, 7) - 1, +own.slice(8)) +
      (step > 0 ? days : -1) * 86_400_000,
  )
  return periodStart(shifted.toISOString().slice(0, 10) as IsoDate, period.of)
}

/**
 * Values for the fields of a text: `{client}`; a date is written with a pattern, `{period: MMMM
 * yyyy}`.
 */
export type MergeValues = Readonly<
  Record<string, string | number | { date: IsoDate } | null | undefined>
>

/**
 * Fills `{field}` and `{field: pattern}`; a field that has no value is left as it stands, so that
 * nothing vanishes.
 */
export function merge(text: string, values: MergeValues): string {
  return text.replace(
    /\{\s*([a-z][a-z ]*?)\s*(?::\s*([^}]*?)\s*)?\}/gi,
    (whole, name: string, pattern?: string) => {
      const value = values[name.toLowerCase()]
      if (value === null || value === undefined) return whole
      if (typeof value === 'object') return formatPattern(value.date, pattern ?? 'd MMMM yyyy')
      return String(value)
    },
  )
}

/** The names of the fields a text uses, lower case. */
export const fieldsIn = (text: string): string[] =>
  [...text.matchAll(/\{\s*([a-z][a-z ]*?)\s*(?::[^}]*)?\}/gi)].map((m) => m[1]!.toLowerCase())
