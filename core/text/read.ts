import type { IsoDate, LocalTime, Minutes } from '../brands.ts'
import { DAY_NAMES, MONTH_NAMES, short } from './names.ts'
import { addDays, workDay, toEpochDay, weekdayOf } from '../calendar/dates.ts'

/**
 * What people type for dates, times and lengths of time, read; null where it is none. Days come
 * before months: 3/12 is 3 December.
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
/** "today", "+5", "in 2 weeks". */
const fromToday: ReadDate = (t, today) => {
  const named = BY_NAME.get(t)
  if (named !== undefined) return addDays(today, named)
  const ahead = /^(?:\+|in )(\d{1,3}) ?(d|day|days|w|week|weeks)?$/.exec(t)
  return ahead && addDays(today, Number(ahead[1]) * (ahead[2]?.startsWith('w') ? 7 : 1))
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

/**
 * A date: "today", "fri", "next tue", "3 Dec", "Dec 3 2027", "3/12/26", "2026-12-03", "+5", "in 2
 * weeks". A weekday is the next one, today's name a week on.
 */
export function readDate(text: string, today: IsoDate): IsoDate | null {
  const t = text.trim().toLowerCase().replace(/,/g, ' ').replace(/\s+/g, ' ')
  for (const read of [standard, fromToday, onWeekday, inWords, inFigures]) {
    const date = read(t, today)
    if (date !== null) return date
  }
  return null
}

/** The hour on a clock of twelve, or null where it has none such. */
const afternoon = (hour: number, half: string): number | null =>
  hour >= 1 && hour <= 12 ? (hour % 12) + (half === 'pm' ? 12 : 0) : null

/** A time of day: "3pm", "3.30 pm", "15:00", "noon". */
export function readTime(text: string): LocalTime | null {
  const t = text.trim().toLowerCase().replace(/^at /, '')
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

/**
 * A number: "1250.5", "1,250.50", "1 250,5". A comma or point before exactly three last digits
 * parts thousands only where digits are grouped all along; a lone comma before any other count of
 * digits is a decimal comma.
 */
export function readNumber(text: string): number | null {
  const t = text
    .trim()
    .replace(/[\s\u00a0\u202f'’]/g, '')
    .replace(/^\u2212/, '-')
  if (/^[-+]?\d+(\.\d+)?$/.test(t) || /^[-+]?\.\d+$/.test(t)) return Number(t)
  if (/^[-+]?\d{1,3}(,\d{3})+(\.\d+)?$/.test(t)) return Number(t.replaceAll(',', ''))
  if (/^[-+]?\d{1,3}(\.\d{3})+,\d+$/.test(t)) return Number(t.replaceAll('.', '').replace(',', '.'))
  return /^[-+]?\d+,\d+$/.test(t) ? Number(t.replace(',', '.')) : null
}

/**
 * A length of time in minutes: "30m", "1h 30m", "1.5h", "1:30", "90 min", "2 hours"; a bare number
 * only where `bare` says so.
 */
export function readMinutes(text: string, bare = false): Minutes | null {
  const t = text.trim().toLowerCase()
  if (bare && /^\d{1,5}$/.test(t)) return Number(t) as Minutes
  const clock = /^(\d{1,3}):([0-5]\d)$/.exec(t)
  if (clock) return bare ? ((Number(clock[1]) * 60 + Number(clock[2])) as Minutes) : null
  const found =
    /^(?:(\d{1,3}(?:\.\d{1,2})?) ?(?:h|hr|hrs|hour|hours))? ?(?:(\d{1,4}) ?(?:m|min|mins|minute|minutes))?$/.exec(
      t,
    )
  if (!found || (!found[1] && !found[2])) return null
  return Math.round(Number(found[1] ?? 0) * 60 + Number(found[2] ?? 0)) as Minutes
}
