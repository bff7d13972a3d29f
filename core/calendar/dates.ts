import type { EpochDay, Instant, IsoDate, LocalStamp, LocalTime } from '../brands.ts'
import { kept } from '../kept.ts'
import { refuse } from '../refusal.ts'
import { zoneOf } from './zone.ts'

const DAY_MS = 86_400_000
const DAY_S = 86_400
const DATE = /^\d{4}-\d{2}-\d{2}$/
const TIME = /^([01]\d|2[0-3]):[0-5]\d(:[0-5]\d)?$/

/**
 * Reads a date written `YYYY-MM-DD`.
 * @throws Refusal `bad-date` for anything else, and for days that do not exist (30 February).
 */
export function isoDate(text: unknown, place = 'date'): IsoDate {
  if (typeof text === 'string' && DATE.test(text)) {
    const [year, month, day] = [+text.slice(0, 4), +text.slice(5, 7), +text.slice(8, 10)]
    if (year >= 100 && month >= 1 && month <= 12 && day >= 1 && day <= daysIn(year, month))
      return text as IsoDate
  }
  return refuse(
    'bad-date',
    `${place}: ${quote(text)} is not a date; write it as YYYY-MM-DD, a day that exists.`,
    place,
  )
}

const LONG = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31] as const
function daysIn(year: number, month: number): number {
  const leap = year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0)
  return LONG[month - 1]! + (leap && month === 2 ? 1 : 0)
}

/** Dates of work lie between these two: what is further away is a slip of the keyboard. */
export const FIRST_DAY = '1970-01-01'
export const LAST_DAY = '2200-12-31'
const isWorkDay = (date: string): boolean => date >= FIRST_DAY && date <= LAST_DAY

/** Reads the date of a piece of work. @throws Refusal `bad-date`, also for one out of all bounds. */
export function workDay(text: unknown, place = 'date'): IsoDate {
  const date = isoDate(text, place)
  if (isWorkDay(date)) return date
  return refuse(
    'bad-date',
    `${place}: ${date} is too far away; dates of work lie between 1970 and 2200.`,
    place,
  )
}

/** Reads a time of day `HH:MM` or `HH:MM:SS`. @throws Refusal `bad-time`. */
export function localTime(text: unknown, place = 'time'): LocalTime {
  if (typeof text === 'string' && TIME.test(text)) return text as LocalTime
  return refuse(
    'bad-time',
    `${place}: ${quote(text)} is not a time of day; write it as HH:MM, 00:00 to 23:59.`,
    place,
  )
}

/** Reads a local date-time, or a date alone. @throws Refusal `bad-date`, `bad-time`. */
export function localStamp(
  text: unknown,
  place = 'date',
): { date: IsoDate; time: LocalTime | null } {
  if (typeof text !== 'string') return { date: isoDate(text, place), time: null }
  const [date, time, ...more] = text.split('T')
  if (more.length)
    refuse(
      'bad-date',
      `${place}: ${quote(text)} is not a date or date-time; write YYYY-MM-DD or YYYY-MM-DDTHH:MM.`,
      place,
    )
  return { date: isoDate(date, place), time: time === undefined ? null : localTime(time, place) }
}

/**
 * Joins what localStamp parts; seconds are dropped when they are zero, so that equal times read
 * equal.
 */
export function stamp(date: IsoDate, time: LocalTime | null): LocalStamp {
  return (
    time === null
      ? date
      : `${date}T${time.length === 8 && time.endsWith(':00') ? time.slice(0, 5) : time}`
  ) as LocalStamp
}

/** Checks an IANA zone name. @throws Refusal `bad-zone`. */
export function zoneName(text: unknown, place = 'zone'): string {
  try {
    if (typeof text === 'string' && !/^[+-]/.test(text)) {
      new Intl.DateTimeFormat('en', { timeZone: text })
      return text
    }
  } catch {
    // falls through to the refusal below
  }
  return refuse(
    'bad-zone',
    `${place}: ${quote(text)} is not a time zone; use an IANA name such as Europe/London.`,
    place,
  )
}

export const toEpochDay = (date: IsoDate): EpochDay =>
  dayOf(+date.slice(0, 4), +date.slice(5, 7), +date.slice(8, 10)) as EpochDay

/** Years of 400 repeat: so many days each. */
const ERA = 146_097
/** From the first of March in year 0, which ends years on their leap day, to 1970. */
const TO_1970 = 719_468
/** Days of a year begun in March before each of its months, by a straight line. */
const beforeMonth = (sinceMarch: number): number => Math.floor((153 * sinceMarch + 2) / 5)
/** The epoch day of a date of the Gregorian calendar, its month 1 to 12. */
export function dayOf(year: number, month: number, day: number): number {
  const y = month > 2 ? year : year - 1
  const era = Math.floor(y / 400)
  const inEra = y - era * 400
  const inYear = beforeMonth((month + 9) % 12) + day - 1
  return (
    era * ERA + inEra * 365 + Math.floor(inEra / 4) - Math.floor(inEra / 100) + inYear - TO_1970
  )
}
/** The month that an epoch day is in, counted from year 0: twelve times the year, and 0 to 11. */
export function monthNumber(day: number): number {
  const shifted = day + TO_1970
  const era = Math.floor(shifted / ERA)
  const inEra = shifted - era * ERA
  const leaps = Math.floor(inEra / 1_460) - Math.floor(inEra / 36_524) + Math.floor(inEra / 146_096)
  const yearInEra = Math.floor((inEra - leaps) / 365)
  const inYear = inEra - (365 * yearInEra + Math.floor(yearInEra / 4) - Math.floor(yearInEra / 100))
  return 12 * (era * 400 + yearInEra) + Math.floor((5 * inYear + 2) / 153) + 2
}

/**
 * The date of an epoch day, kept: the same few come again and again.
 * @throws Refusal `out-of-range` past the years 100 to 9999, the span the project's dates are
 * written in.
 */
export const fromEpochDay = kept(100_000, (day: number): IsoDate => {
  if (day < -683_003 || day > 2_932_896)
    refuse('out-of-range', 'The calculation leaves the years 100 to 9999.')
  return new Date(day * DAY_MS).toISOString().slice(0, 10) as IsoDate
})

/** ISO weekday of an epoch day: 1 Monday to 7 Sunday. */
export const weekdayOf = (day: number): number => ((((day + 3) % 7) + 7) % 7) + 1

/** Adds calendar days. */
export const addDays = (date: IsoDate, days: number): IsoDate =>
  fromEpochDay(toEpochDay(date) + days)

/** The seconds of a day that a time of it is. */
export const secondsOf = (time: LocalTime): number =>
  +time.slice(0, 2) * 3_600 + +time.slice(3, 5) * 60 + (+time.slice(6, 8) || 0)

const two = (n: number): string => (n < 10 ? `0${n}` : String(n))
/** The time of day so many seconds after midnight. */
export const timeOfDay = kept(10_000, (second: number): LocalTime => {
  const [h, m, s] = [Math.floor(second / 3_600), Math.floor(second / 60) % 60, second % 60]
  return `${two(h)}:${two(m)}${s ? `:${two(s)}` : ''}` as LocalTime
})

/**
 * The instant of a local date and time in a zone (a date alone: its first moment). A time that a
 * clock change skips is read with the offset before the gap; one that occurs twice is its first
 * occurrence (RFC 5545, 3.3.5; Temporal calls this `compatible`).
 */
export function toInstant(date: IsoDate, time: LocalTime | null, zone: string): Instant {
  const midnight = toEpochDay(date) * DAY_S
  const { instant, dayStart } = zoneOf(zone)
  return ((time === null ? dayStart(midnight) : instant(midnight + secondsOf(time))) *
    1_000) as Instant
}

/** The local date and time of an instant in a zone; of a part of a second, the second it is in. */
export function toLocal(at: number, zone: string): { date: IsoDate; time: LocalTime } {
  const local = zoneOf(zone).local(Math.floor(at / 1_000))
  const day = Math.floor(local / DAY_S)
  return { date: fromEpochDay(day), time: timeOfDay(local - day * DAY_S) }
}

/** The time of day so many milliseconds after a midnight that no clock change follows. */
export const timeAfterMidnight = (ms: number): LocalTime => timeOfDay(Math.floor(ms / 1_000))

/** ISO 8601 week number and the year that week belongs to. */
export function isoWeek(date: IsoDate): { year: number; week: number } {
  const day = toEpochDay(date)
  const thursday = fromEpochDay(day - weekdayOf(day) + 4)
  const year = +thursday.slice(0, 4)
  return {
    year,
    week:
      Math.floor(
        (toEpochDay(thursday) - toEpochDay(`${thursday.slice(0, 4)}-01-01` as IsoDate)) / 7,
      ) + 1,
  }
}

export const quote = (value: unknown): string =>
  value === undefined ? 'nothing' : JSON.stringify(value).slice(0, 60)
