import { WEEKDAYS, type Weekday } from '../calendar/calendar.ts'
import type { IsoDate } from '../brands.ts'
import { isoDate, quote } from '../calendar/dates.ts'
import { refuse } from '../refusal.ts'

export const FREQUENCIES = [
  'SECONDLY',
  'MINUTELY',
  'HOURLY',
  'DAILY',
  'WEEKLY',
  'MONTHLY',
  'YEARLY',
] as const
export type Frequency = (typeof FREQUENCIES)[number]

/** A recurrence rule of RFC 5545, section 3.3.10, read and checked. */
export interface RRule {
  readonly freq: Frequency
  readonly interval: number
  readonly count?: number
  /** The last moment, inclusive; `utc` when it ends in Z, a date alone covers its whole day. */
  readonly until?: { date: IsoDate; time: string | null; utc: boolean }
  readonly bySecond?: readonly number[]
  readonly byMinute?: readonly number[]
  readonly byHour?: readonly number[]
  /** `nth` 0 means every such weekday. */
  readonly byDay?: readonly { weekday: number; nth: number }[]
  readonly byMonthDay?: readonly number[]
  readonly byYearDay?: readonly number[]
  readonly byWeekNo?: readonly number[]
  readonly byMonth?: readonly number[]
  readonly bySetPos?: readonly number[]
  /** First day of the week, 1 Monday to 7 Sunday. */
  readonly weekStart: number
}

const bad = (message: string): never => refuse('bad-rule', `rule: ${message}`, 'rule')

function numbers(part: string, text: string, low: number, high: number, signed = false): number[] {
  const list = text.split(',').map((item) => {
    const n = Number(item)
    const size = signed ? Math.abs(n) : n
    if (
      !/^[+-]?\d{1,4}$/.test(item) ||
      (!signed && /^[+-]/.test(item)) ||
      size < low ||
      size > high
    )
      bad(
        `${part}=${item} is out of place; ${part} takes ${signed ? `±${low} to ±${high}` : `${low} to ${high}`}.`,
      )
    return n
  })
  return [...new Set(list)].sort((a, b) => a - b)
}

function whole(part: string, text: string): number {
  const n = Number(text)
  return /^\d{1,9}$/.test(text) && n >= 1
    ? n
    : bad(`${part}=${text} must be a whole number from 1.`)
}

function weekday(name: string): number {
  const index = WEEKDAYS.indexOf(name as Weekday)
  return index < 0 ? bad(`${quote(name)} is not a weekday; use MO TU WE TH FR SA SU.`) : index + 1
}

function until(text: string): NonNullable<RRule['until']> {
  const m = /^(\d{4})-?(\d{2})-?(\d{2})(?:T(\d{2}):?(\d{2}):?(\d{2})?(Z)?)?$/.exec(text)
  if (!m)
    return bad(`UNTIL=${text} is not a date or date-time such as 20261231 or 20261231T090000Z.`)
  const time = m[4] === undefined ? null : `${m[4]}:${m[5]}:${m[6] ?? '00'}`
  if (time !== null && !/^([01]\d|2[0-3]):[0-5]\d:[0-5]\d$/.test(time))
    bad(`UNTIL=${text} has a time that does not exist.`)
  return { date: isoDate(`${m[1]}-${m[2]}-${m[3]}`, 'rule UNTIL'), time, utc: m[7] === 'Z' }
}

type Parts = Map<string, string>

/** The parts of a rule by name; none is given twice. */
function partsOf(text: string): Parts {
  const parts: Parts = new Map()
  const bare = text
    .trim()
    .replace(/^RRULE:/i, '')
    .replace(/;$/, '')
  for (const piece of bare.split(';')) {
    const [name = '', value = '', ...more] = piece.toUpperCase().split('=')
    if (!name || !value || more.length)
      bad(`${quote(piece)} is no part of a rule; parts look like FREQ=WEEKLY or BYDAY=TU.`)
    if (parts.has(name)) bad(`${name} is given twice.`)
    parts.set(name, value)
  }
  return parts
}

/** Takes one part out and reads it; undefined where it is not given. */
function take<T>(parts: Parts, name: string, read: (value: string) => T): T | undefined {
  const value = parts.get(name)
  parts.delete(name)
  return value === undefined ? undefined : read(value)
}

function frequency(value: string): Frequency {
  if (!FREQUENCIES.includes(value as Frequency))
    bad(`FREQ=${value} is not known; use ${FREQUENCIES.join(', ')}.`)
  return value as Frequency
}

function ordinalDay(item: string): NonNullable<RRule['byDay']>[number] {
  const m = /^([+-]?\d{1,2})?(MO|TU|WE|TH|FR|SA|SU)$/.exec(item)
  if (!m) return bad(`BYDAY=${item} is not a weekday such as MO, 2FR or -1SU.`)
  const nth = m[1] === undefined ? 0 : Number(m[1])
  if (m[1] !== undefined && (nth === 0 || Math.abs(nth) > 53))
    bad(`BYDAY=${item}: the ordinal runs from ±1 to ±53.`)
  return { weekday: weekday(m[2]!), nth }
}

/** What RFC 5545 says of parts that do not go together (section 3.3.10). */
function checkTogether(rule: RRule): void {
  const { freq, byWeekNo, byYearDay, byMonthDay } = rule
  if (rule.count !== undefined && rule.until) bad('COUNT and UNTIL exclude each other; keep one.')
  if (byWeekNo && freq !== 'YEARLY') bad('BYWEEKNO only goes with FREQ=YEARLY.')
  if (byYearDay && ['DAILY', 'WEEKLY', 'MONTHLY'].includes(freq))
    bad(`BYYEARDAY does not go with FREQ=${freq}.`)
  if (byMonthDay && freq === 'WEEKLY') bad('BYMONTHDAY does not go with FREQ=WEEKLY.')
}

function checkOrdinals({ freq, byDay, byWeekNo }: RRule): void {
  if (!byDay?.some((d) => d.nth !== 0)) return
  if (freq !== 'MONTHLY' && freq !== 'YEARLY')
    bad(`BYDAY with an ordinal does not go with FREQ=${freq}; use MONTHLY or YEARLY.`)
  if (byWeekNo) bad('BYDAY with an ordinal does not go with BYWEEKNO.')
}

function checkPositions(rule: RRule): void {
  const { bySecond, byMinute, byHour, byDay, byMonthDay, byYearDay, byWeekNo, byMonth } = rule
  const others = [bySecond, byMinute, byHour, byDay, byMonthDay, byYearDay, byWeekNo, byMonth]
  if (rule.bySetPos && !others.some(Boolean)) bad('BYSETPOS needs another BY… part to choose from.')
}

/**
 * Reads an RRULE, strictly: unknown or doubled parts and values out of range are refused by name.
 * @throws Refusal `bad-rule`, `bad-date`.
 */
export function parseRRule(text: string): RRule {
  const parts = partsOf(text)
  const list = (name: string, low: number, high: number, signed = false) =>
    take(parts, name, (value) => numbers(name, value, low, high, signed))
  const count = (name: string) => take(parts, name, (value) => whole(name, value))
  const rule = {
    freq:
      take(parts, 'FREQ', frequency) ??
      bad('FREQ is missing; start with FREQ=DAILY, WEEKLY, MONTHLY or YEARLY.'),
    interval: count('INTERVAL') ?? 1,
    count: count('COUNT'),
    until: take(parts, 'UNTIL', until),
    bySecond: list('BYSECOND', 0, 60),
    byMinute: list('BYMINUTE', 0, 59),
    byHour: list('BYHOUR', 0, 23),
    byDay: take(parts, 'BYDAY', (value) => value.split(',').map(ordinalDay)),
    byMonthDay: list('BYMONTHDAY', 1, 31, true),
    byYearDay: list('BYYEARDAY', 1, 366, true),
    byWeekNo: list('BYWEEKNO', 1, 53, true),
    byMonth: list('BYMONTH', 1, 12),
    bySetPos: list('BYSETPOS', 1, 366, true),
    weekStart: take(parts, 'WKST', weekday) ?? 1,
  }
  const [unknown] = parts.keys()
  if (unknown !== undefined) bad(`${unknown} is not a part of a recurrence rule.`)
  const given = Object.fromEntries(
    Object.entries(rule).filter(([, value]) => value !== undefined),
  ) as unknown as RRule
  checkTogether(given)
  checkOrdinals(given)
  checkPositions(given)
  return given
}
