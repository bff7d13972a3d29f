import type { IsoDate, LocalTime } from '../brands.ts'
import { DAY_NAMES, MONTH_NAMES, short } from './names.ts'
import { sayDate } from './speak.ts'
import { addDays, workDay, toEpochDay, weekdayOf } from '../calendar/dates.ts'

/**
 * What people type for dates and times of day, read; null where it is none. Days come before
 * months: 3/12 is 3 December.
 */

const MONTHS = MONTH_NAMES.map((name) => name.toLowerCase())
const DAYS = DAY_NAMES.map((name) => name.toLowerCase())
const SHORT_DAYS: Readonly<Record<string, number>> = {
  mon: 1,
  tue: 2,
  tues: 2,
  wed: 3,
  weds: 3,
  thu: 4,
  thur: 4,
  thurs: 4,
  fri: 5,
  sat: 6,
  sun: 7,
}

/** 1 to 12; 0 where a word names no month. */
const monthOf = (word: string): number =>
  word === 'sept' ? 9 : MONTHS.findIndex((name) => name === word || short(name) === word) + 1
const weekdayNamed = (word: string): number => SHORT_DAYS[word] ?? DAYS.indexOf(word) + 1

function real(year: number, month: number, day: number): IsoDate | null {
  try {
    return workDay(
      `${String(year).padStart(4, '0')}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`,
    )
  } catch {
    return null
  }
}
/**
 * A date without a year: this year's, or next year's when it would lie more than half a year back.
 */
function nearest(month: number, day: number, today: IsoDate): IsoDate | null {
  const year = Number(today.slice(0, 4))
  const here = real(year, month, day)
  return here !== null && here < addDays(today, -183)
    ? real(year + 1, month, day)
    : (here ?? real(year + 1, month, day))
}

type ReadDate = (text: string, today: IsoDate) => IsoDate | null

const standard: ReadDate = (t) =>
  /^\d{4}-\d{2}-\d{2}$/.test(t) ? real(+t.slice(0, 4), +t.slice(5, 7), +t.slice(8)) : null

const BY_NAME: ReadonlyMap<string, number> = new Map([
  ['yesterday', -1],
  ['today', 0],
  ['tomorrow', 1],
])
/** The last day of a month, counted from January of a year; later months run into later years. */
const monthEnd = (year: number, month: number): IsoDate =>
  new Date(Date.UTC(year, month + 1, 0)).toISOString().slice(0, 10) as IsoDate

/** "today", "+5", "+3d", "in 2 weeks", "+1m". */
const fromToday: ReadDate = (t, today) => {
  const named = BY_NAME.get(t)
  if (named !== undefined) return addDays(today, named)
  const ahead = /^(?:\+|in )(\d{1,3}) ?(d|days?|w|weeks?|m|months?)?$/.exec(t)
  if (!ahead) return null
  const [count, unit] = [Number(ahead[1]), ahead[2]?.[0] ?? 'd']
  if (unit !== 'm') return addDays(today, count * (unit === 'w' ? 7 : 1))
  // The same day of a later month, or its last where it is shorter.
  const [year, month, day] = today.split('-').map(Number) as [number, number, number]
  const last = monthEnd(year, month - 1 + count)
  return `${last.slice(0, 8)}${String(Math.min(day, +last.slice(8))).padStart(2, '0')}` as IsoDate
}

/** "eom", "eow", "end of next quarter": the last day of the period; a week ends on its Sunday. */
const atTheEnd: ReadDate = (t, today) => {
  const said =
    /^(?:by |on )?(?:eo|end of (?<which>the |this |next )?)(?<of>w|week|m|month|q|quarter|y|year)$/.exec(
      t,
    )
  if (!said) return null
  const shift = said.groups!['which'] === 'next ' ? 1 : 0
  const [year, month] = today.split('-').map(Number) as [number, number]
  switch (said.groups!['of']![0]) {
    case 'w':
      return addDays(today, 7 * (1 + shift) - weekdayOf(toEpochDay(today)))
    case 'm':
      return monthEnd(year, month - 1 + shift)
    case 'q':
      return monthEnd(year, Math.floor((month - 1) / 3) * 3 + 2 + 3 * shift)
    default:
      return monthEnd(year + shift, 11)
  }
}

/** "fri", "next tue": the next such day, today's name a week on; "next fri" is next week's. */
const onWeekday: ReadDate = (t, today) => {
  const said = /^(?:(next|on|by) )?([a-z]+)$/.exec(t)
  const weekday = said ? weekdayNamed(said[2]!) : 0
  if (weekday === 0) return null
  const now = weekdayOf(toEpochDay(today))
  return said![1] === 'next'
    ? addDays(today, 7 - now + weekday)
    : addDays(today, (weekday - now + 7) % 7 || 7)
}

/** "3 Dec", "Dec 3 2027", with the weekday before it or without. */
const inWords: ReadDate = (t, today) => {
  const spoken = t.replace(
    /^(?:(?:on|by|due) )?(?:(?:mon|tue|tues|wed|weds|thu|thur|thurs|fri|sat|sun)[a-z]* )?/,
    '',
  )
  const found =
    /^(?<day>\d{1,2})(?:st|nd|rd|th)? (?<name>[a-z]+)(?: (?<year>\d{4}))?$/.exec(spoken) ??
    /^(?<name>[a-z]+) (?<day>\d{1,2})(?:st|nd|rd|th)?(?: (?<year>\d{4}))?$/.exec(spoken)
  if (!found) return null
  const { day, name, year } = found.groups as { day: string; name: string; year?: string }
  const month = monthOf(name)
  if (month === 0) return null
  return year ? real(Number(year), month, Number(day)) : nearest(month, Number(day), today)
}

/** "3/12/26", "3.12.". */
const inFigures: ReadDate = (t, today) => {
  const found = /^(\d{1,2})[/.](\d{1,2})(?:[/.](\d{2}|\d{4}))?\.?$/.exec(t)
  if (!found) return null
  const [, day, month, year] = found
  if (!year) return nearest(Number(month), Number(day), today)
  return real(Number(year) + (year.length === 2 ? 2000 : 0), Number(month), Number(day))
}

const plainly = (text: string): string =>
  text.trim().toLowerCase().replace(/,/g, ' ').replace(/\s+/g, ' ')

/**
 * A date: "today", "fri", "next tue", "3 Dec", "Dec 3 2027", "3/12/26", "2026-12-03", "+5", "+3d",
 * "in 2 weeks", "+1m", "eom", "end of next quarter". A weekday is the next one, today's name a week
 * on.
 */
export function readDate(text: string, today: IsoDate): IsoDate | null {
  const t = plainly(text)
  for (const read of [standard, fromToday, atTheEnd, onWeekday, inWords, inFigures]) {
    const date = read(t, today)
    if (date !== null) return date
  }
  return null
}

const MOST_DAYS = [31, 29, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31]
/** Ways to name a day of a month. */
const DAY_OF_MONTH = [
  /^(?:\w+ )?(?<day>\d{1,3})(?:st|nd|rd|th)? (?<name>[a-z]+)(?: (?<year>\d{4}))?$/,
  /^(?<day>\d{1,2})[/.](?<month>\d{1,2})(?:[/.](?<year>\d{2,4}))?\.?$/,
  /^(?<year>\d{4})-(?<month>\d{1,2})-(?<day>\d{1,2})$/,
]
/** A day that its month does not have, in a sentence; null where no month and day are named. */
function noSuchDay(t: string): string | null {
  const found = DAY_OF_MONTH.map((way) => way.exec(t)?.groups).find((groups) => groups)
  if (!found) return null
  const day = Number(found['day'])
  const month = found['name'] ? monthOf(found['name']) : Number(found['month'])
  if (month > 12)
    return `Days come before months here, and there is no month ${month}: write ${month}/${day}.`
  const most = MOST_DAYS[month - 1]
  if (most === undefined) return null
  if (day > most) return `${MONTH_NAMES[month - 1]} has ${most} days.`
  return month === 2 && day === 29 ? `${found['year'] ?? 'The year'} has no 29 February.` : null
}
const LIKE_A_DATE = 'Write 9 Dec, fri, +3d, eom or 2026-12-09.'

/**
 * Why a text is no date (nor, with `timed`, a date with a time), in a sentence or two: what of it
 * was understood, and what would be right. Null where it is one.
 */
export function dateFault(text: string, today: IsoDate, timed = false): string | null {
  const read = (t: string) => (timed ? readWhen(t, today) : readDate(t, today))
  if (read(text) !== null) return null
  const t = plainly(text)
  const known = noSuchDay(t)
  if (known) return `“${text.trim()}” is no date. ${known}`
  const words = t.split(' ').slice(0, 8)
  for (let length = words.length - 1; length > 0; length--) {
    const date = readDate(words.slice(0, length).join(' '), today)
    if (date !== null)
      return (
        `“${words.slice(0, length).join(' ')}” is ${sayDate(date, today)}, but ` +
        `“${words.slice(length).join(' ')}” says ${timed ? 'no time. Write fri 15:00' : 'nothing'}.`
      )
  }
  return `“${text.trim().slice(0, 40)}” is no date. ${LIKE_A_DATE}`
}

/** Why a text is no time of day, and what would be right; null where it is one. */
export const timeFault = (text: string): string | null =>
  readTime(text) !== null
    ? null
    : `“${text.trim().slice(0, 40)}” is no time of day. Write 15:00, 3pm or 9.30 am.`

/** The hour on a clock of twelve, or null where it has none such. */
const afternoon = (hour: number, half: string): number | null =>
  hour >= 1 && hour <= 12 ? (hour % 12) + (half === 'pm' ? 12 : 0) : null

/** A time of day: "3pm", "3.30 pm", "15:00", "noon", "midnight". */
export function readTime(text: string): LocalTime | null {
  const t = text.trim().toLowerCase().replace(/^at /, '')
  if (t === 'midnight') return '00:00' as LocalTime
  if (t === 'noon' || t === 'midday') return '12:00' as LocalTime
  const found = /^(\d{1,2})(?:[:.](\d{2}))? ?(am|pm)?$/.exec(t)
  if (!found || (!found[2] && !found[3])) return null
  const hour = found[3] ? afternoon(Number(found[1]), found[3]) : Number(found[1])
  const minute = Number(found[2] ?? 0)
  if (hour === null || hour >= 24 || minute >= 60) return null
  return `${String(hour).padStart(2, '0')}:${String(minute).padStart(2, '0')}` as LocalTime
}

/** “fri 3pm”, “5 dec, 14:00”, “2026-12-05T14:00:00”: a date, what stands between, a time. */
const DATE_AND_TIME = new RegExp(
  [
    '^(.+?)',
    String.raw`(?:[\s,]+(?:at )?|(?<=\d)t(?=\d))`,
    String.raw`((?:\d{1,2}(?:[:.]\d{2})? ?(?:am|pm)|\d{1,2}:\d{2})|noon|midday)`,
    String.raw`(?::\d{2})?$`,
  ].join(''),
  'i',
)

/**
 * A date with a time after it ("fri 3pm", "3 Dec, 15:00", "2026-12-03T15:00"); a time alone is
 * today's. `time` is null where none is said.
 */
export function readWhen(
  text: string,
  today: IsoDate,
): { date: IsoDate; time: LocalTime | null } | null {
  const whole = readDate(text, today)
  if (whole !== null) return { date: whole, time: null }
  const alone = readTime(text)
  if (alone !== null) return { date: today, time: alone }
  const parts = DATE_AND_TIME.exec(text.trim())
  const date = parts && readDate(parts[1]!, today)
  const time = parts && readTime(parts[2]!)
  return date && time ? { date, time } : null
}
