import { Temporal } from 'temporal-polyfill'
import type { EpochDay, Instant, IsoDate, LocalStamp, LocalTime } from '../brands.ts'
import { refuse } from '../refusal.ts'

const DAY_MS = 86_400_000
const DATE = /^\d{4}-\d{2}-\d{2}$/
const TIME = /^([01]\d|2[0-3]):[0-5]\d(:[0-5]\d)?$/

/**
 * Reads a date written `YYYY-MM-DD`.
 * @throws Refusal `bad-date` for anything else, and for days that do not exist (30 February).
 */
export function isoDate(text: unknown, place = 'date'): IsoDate {
  if (typeof text === 'string' && DATE.test(text)) {
    const day = Date.UTC(+text.slice(0, 4), +text.slice(5, 7) - 1, +text.slice(8, 10))
    if (+text.slice(0, 4) >= 100 && new Date(day).toISOString().startsWith(text))
      return text as IsoDate
  }
  return refuse(
    'bad-date',
    `${place}: ${quote(text)} is not a date; write it as YYYY-MM-DD, a day that exists.`,
    place,
  )
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
  (Date.UTC(+date.slice(0, 4), +date.slice(5, 7) - 1, +date.slice(8, 10)) / DAY_MS) as EpochDay

/**
 * @throws Refusal `out-of-range` past the years 100 to 9999, the span the project's dates are
 * written in.
 */
export function fromEpochDay(day: number): IsoDate {
  if (day < -683_003 || day > 2_932_896)
    refuse('out-of-range', 'The calculation leaves the years 100 to 9999.')
  return new Date(day * DAY_MS).toISOString().slice(0, 10) as IsoDate
}

/** ISO weekday of an epoch day: 1 Monday to 7 Sunday. */
export const weekdayOf = (day: number): number => ((((day + 3) % 7) + 7) % 7) + 1

/** Adds calendar days. */
export const addDays = (date: IsoDate, days: number): IsoDate =>
  fromEpochDay(toEpochDay(date) + days)

// Zone arithmetic is the slowest step of scheduling and the same few dates come again and again.
const instants = new Map<string, number>()

/**
 * The instant of a local date and time in a zone (a date alone: its first moment). A time that a
 * clock change skips is read with the offset before the gap; one that occurs twice is its first
 * occurrence (RFC 5545, 3.3.5; Temporal calls this `compatible`).
 */
export function toInstant(date: IsoDate, time: LocalTime | null, zone: string): Instant {
  const key = `${date}T${time ?? ''}[${zone}`
  const known = instants.get(key)
  if (known !== undefined) return known as Instant
  const day = Temporal.PlainDate.from(date)
  const at =
    time === null
      ? day.toZonedDateTime(zone).epochMilliseconds
      : day
          .toPlainDateTime(Temporal.PlainTime.from(time))
          .toZonedDateTime(zone, { disambiguation: 'compatible' }).epochMilliseconds
  if (instants.size > 20_000) instants.clear()
  instants.set(key, at)
  return at as Instant
}

/** The local date and time of an instant in a zone. */
export function toLocal(at: number, zone: string): { date: IsoDate; time: LocalTime } {
  const local = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone)
  const time = local.toPlainTime()
  return {
    date: local.toPlainDate().toString() as IsoDate,
    time: time.toString({ smallestUnit: time.second === 0 ? 'minute' : 'second' }) as LocalTime,
  }
}

/** The time of day so many milliseconds after a midnight that no clock change follows. */
export function timeAfterMidnight(ms: number): LocalTime {
  const stamp = new Date(ms).toISOString().slice(11, 19)
  return (stamp.endsWith(':00') ? stamp.slice(0, 5) : stamp) as LocalTime
}

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
