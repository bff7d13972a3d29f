import type { IsoDate, Minutes } from '../brands.ts'
import { refuse } from '../refusal.ts'
import { fromEpochDay, isoDate, quote, toEpochDay, weekdayOf } from './dates.ts'

export const WEEKDAYS = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'] as const
export type Weekday = (typeof WEEKDAYS)[number]

/**
 * What a calendar is read from: working weekdays, holidays, and hours of each weekday in minutes.
 */
export interface CalendarInput {
  readonly week?: readonly Weekday[]
  /**
   * Days `2026-12-25`, ranges `2026-12-24/2026-12-31` (both ends), named ones, half ones, and those
   * that take so many minutes of each day. What lies on the same day adds up.
   */
  readonly holidays?: readonly (
    string | { date: string; name?: string; half?: boolean; minutes?: number | null }
  )[]
  readonly hours?: Partial<Record<Weekday, number>>
}

/** What is taken off a day: all of it, unless half of it or some minutes are. */
interface DayOff {
  readonly name: string
  readonly half: boolean
  /** Minutes that are off besides; zero for a whole or a half day. */
  readonly minutes: Minutes
}

/** A set of working weekdays, working minutes and holidays. Build one with `calendar`. */
export interface Calendar {
  /** Index 1 (Monday) to 7 (Sunday). */
  readonly works: readonly boolean[]
  readonly minutes: readonly Minutes[]
  /** Epoch day to the holiday on it. */
  readonly holidays: ReadonlyMap<number, DayOff>
  /** Days that would be worked and are whole holidays, in order: what reckoning takes off. */
  readonly off: readonly number[]
}

/**
 * Business day conventions as in the 2006 ISDA Definitions, section 4.12; `none` leaves the date
 * alone.
 */
export const ROLLS = [
  'none',
  'following',
  'preceding',
  'modified-following',
  'modified-preceding',
] as const
export type Roll = (typeof ROLLS)[number]

const DEFAULT_DAY = 450 as Minutes
const LONGEST_GAP = 3_660
const MOST_DAYS = 1_000_000
/** Up to so many working days are gone through one by one. */
const NEAR = 40

/** Which weekdays are worked, 1 (Monday) to 7. */
function worked(week: unknown, place: string): boolean[] {
  if (!Array.isArray(week) || week.length === 0)
    refuse(
      'bad-calendar',
      `${place}.week: name at least one working weekday, such as ["MO","TU"].`,
      `${place}.week`,
    )
  const works = Array<boolean>(8).fill(false)
  for (const name of week) {
    const index = WEEKDAYS.indexOf(name as Weekday)
    if (index < 0)
      refuse(
        'bad-calendar',
        `${place}.week: ${quote(name)} is not a weekday; use MO TU WE TH FR SA SU.`,
        `${place}.week`,
      )
    works[index + 1] = true
  }
  return works
}

/** The first and last day of one entry among the holidays. */
function holidayRange(text: string, place: string): [first: number, last: number] {
  const [from, to = from, ...more] = text.split('/')
  if (more.length) refuse('bad-calendar', `${place}: write a day, or a range as FROM/TO.`, place)
  const first = toEpochDay(isoDate(from, place))
  const last = toEpochDay(isoDate(to, place))
  if (last < first) refuse('bad-calendar', `${place}: the range ends before it starts.`, place)
  if (last - first > LONGEST_GAP)
    refuse('bad-calendar', `${place}: a holiday range may span ten years at most.`, place)
  return [first, last]
}

const isWhole = ({ half, minutes }: DayOff): boolean => !half && minutes === 0
/** Two that lie on one day: what is whole stays whole, and two halves are a whole. */
function addedUp(a: DayOff | undefined, b: DayOff): DayOff {
  if (!a || isWhole(b)) return b
  if (isWhole(a)) return a
  if (a.half && b.half) return { name: a.name, half: false, minutes: 0 as Minutes }
  const minutes = (a.minutes + b.minutes) as Minutes
  return { name: a.name, half: a.half || b.half, minutes }
}

function holidaysOf(given: unknown, place: string): Map<number, DayOff> {
  const holidays = new Map<number, DayOff>()
  if (!Array.isArray(given)) refuse('bad-calendar', `${place}: expected a list of dates.`, place)
  for (const [i, entry] of (given as NonNullable<CalendarInput['holidays']>).entries()) {
    const one = typeof entry === 'string' ? { date: entry } : (entry ?? {})
    const [first, last] = holidayRange(String(one.date ?? ''), `${place}[${i}]`)
    const minutes = ('minutes' in one ? (one.minutes ?? 0) : 0) as Minutes
    const note = { name: one.name ?? '', half: one.half ?? false, minutes }
    for (let day = first; day <= last; day++) holidays.set(day, addedUp(holidays.get(day), note))
  }
  return holidays
}

/**
 * Builds a calendar; with nothing given, Monday to Friday without holidays.
 * @throws Refusal `bad-calendar`, `bad-date`, naming the entry.
 */
export function calendar(input: CalendarInput = {}, place = 'calendar'): Calendar {
  if (typeof input !== 'object' || input === null || Array.isArray(input))
    refuse('bad-calendar', `${place}: expected {"week":[…],"holidays":[…]}.`, place)
  const works = worked(input.week ?? WEEKDAYS.slice(0, 5), place)
  const minutes = works.map((on, day) =>
    on ? ((input.hours?.[WEEKDAYS[day - 1] as Weekday] ?? DEFAULT_DAY) as Minutes) : (0 as Minutes),
  )
  const holidays = holidaysOf(input.holidays ?? [], `${place}.holidays`)
  // Hours off that leave nothing of a day are that day.
  for (const [day, note] of holidays)
    if (!isWhole(note) && left(note, minutes[weekdayOf(day)]!) <= 0)
      holidays.set(day, { name: note.name, half: false, minutes: 0 as Minutes })
  const off = [...holidays.entries()]
    .flatMap(([day, note]) => (isWhole(note) && works[weekdayOf(day)] ? [day] : []))
    .sort((a, b) => a - b)
  return { works, minutes, holidays, off }
}

/** What of a day's minutes is left when some are off. */
const left = ({ half, minutes }: DayOff, full: Minutes): Minutes =>
  ((half ? Math.round(full / 2) : full) - minutes) as Minutes

function isWorking(cal: Calendar, day: number): boolean {
  const note = cal.holidays.get(day)
  return cal.works[weekdayOf(day)]! && (note === undefined || !isWhole(note))
}

/** Whether work is done on a date at all; a half holiday still is a working day. */
export const isWorkingDay = (cal: Calendar, date: IsoDate): boolean =>
  isWorking(cal, toEpochDay(date))

/** The name of the holiday on a date, or null; an unnamed one is "holiday". */
export const holidayOn = (cal: Calendar, date: IsoDate): string | null =>
  holidayOnDay(cal, toEpochDay(date))
/** The same, in epoch days. */
export function holidayOnDay(cal: Calendar, day: number): string | null {
  const found = cal.holidays.get(day)
  return found ? found.name || 'holiday' : null
}

/** The holidays, whole and half, from one day to another (both ends), in order. */
export function holidaysBetween(
  cal: Calendar,
  from: IsoDate,
  to: IsoDate,
): { date: IsoDate; name: string; half: boolean }[] {
  const [first, last] = [toEpochDay(from), toEpochDay(to)]
  return [...cal.holidays]
    .filter(([day]) => day >= first && day <= last)
    .sort(([a], [b]) => a - b)
    .map(([day, { name, half }]) => ({ date: fromEpochDay(day), name, half }))
}

/** Working minutes on a date: those of the weekday, less what a holiday or time off takes of it. */
export function workingMinutes(cal: Calendar, date: IsoDate): Minutes {
  const day = toEpochDay(date)
  if (!isWorking(cal, day)) return 0 as Minutes
  const full = cal.minutes[weekdayOf(day)]!
  const note = cal.holidays.get(day)
  return note ? left(note, full) : full
}

/** How many of a sorted list are at most a number. */
function upTo(list: readonly number[], most: number): number {
  let [low, high] = [0, list.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if (list[middle]! <= most) low = middle + 1
    else high = middle
  }
  return low
}

/** How many working days lie after one day up to and including another: reckoned, not gone through. */
function workingIn({ works, off }: Calendar, low: number, high: number): number {
  if (high <= low) return 0
  const rest = (high - low) % 7
  let count = works.filter(Boolean).length * ((high - low - rest) / 7)
  for (let day = high - rest + 1; day <= high; day++) if (works[weekdayOf(day)]) count++
  return count - (upTo(off, high) - upTo(off, low))
}

function nextWorking(cal: Calendar, from: number, step: 1 | -1): number {
  let day = from
  for (let tried = 0; tried <= LONGEST_GAP; tried++, day += step)
    if (isWorking(cal, day)) return day
  return refuse(
    'no-working-day',
    `The calendar has no working day within ten years of ${fromEpochDay(from)}.`,
  )
}

/** The same as `rollDate`, in epoch days. */
export function rollDay(cal: Calendar, day: number, roll: Roll): number {
  if (roll === 'none' || isWorking(cal, day)) return day
  const forward = roll === 'following' || roll === 'modified-following'
  const rolled = nextWorking(cal, day, forward ? 1 : -1)
  if (
    !roll.startsWith('modified') ||
    fromEpochDay(rolled).slice(0, 7) === fromEpochDay(day).slice(0, 7)
  )
    return rolled
  return nextWorking(cal, day, forward ? -1 : 1)
}

/** Moves a non-working date to a working one by a convention; a working date stays. */
export const rollDate = (cal: Calendar, date: IsoDate, roll: Roll): IsoDate =>
  fromEpochDay(rollDay(cal, toEpochDay(date), roll))

/** The same as `addWorkingDays`, in epoch days. */
export function addWorking(cal: Calendar, from: number, n: number, roll: Roll = 'none'): number {
  if (!Number.isInteger(n) || Math.abs(n) > MOST_DAYS)
    refuse('bad-number', 'Working days to add must be a whole number within ±1,000,000.', 'add')
  let day = rollDay(cal, from, roll)
  if (n === 0) return day
  const step = n > 0 ? 1 : -1
  day = nextWorking(cal, day, step)
  let left = Math.abs(n)
  // So many calendar days hold at most as many working ones: far away is come near to in few steps.
  while (left > NEAR) {
    const [low, high] = n > 0 ? [day, day + left] : [day - left - 1, day - 1]
    const worked = workingIn(cal, low, high)
    if (worked === 0 && left > LONGEST_GAP) break
    day += step * left
    left -= worked
  }
  for (; left > 0; left--) day = nextWorking(cal, day + step, step)
  return day
}
/**
 * Adds n working days. A non-working date is rolled first: by `roll` if one is given, else forward
 * when n > 0 and back when n < 0; n = 0 leaves it where it is unless a roll is asked for.
 * @throws Refusal `out-of-range`, `no-working-day`.
 */
export const addWorkingDays = (
  cal: Calendar,
  date: IsoDate,
  n: number,
  roll: Roll = 'none',
): IsoDate => fromEpochDay(addWorking(cal, toEpochDay(date), n, roll))

/** The n-th working day strictly after a date (n ≥ 1), whether or not the date itself is one. */
export const workingDayAfter = (cal: Calendar, date: IsoDate, n: number): IsoDate =>
  addWorkingDays(cal, date, n, 'preceding')
/** The n-th working day strictly before a date (n ≥ 1), whether or not the date itself is one. */
export const workingDayBefore = (cal: Calendar, date: IsoDate, n: number): IsoDate =>
  addWorkingDays(cal, date, -n, 'following')

/**
 * How many working days lie after `from` up to and including `to`; negative when `to` is earlier.
 */
export function workingDaysBetween(cal: Calendar, from: IsoDate, to: IsoDate): number {
  let [low, high, sign] = [toEpochDay(from) as number, toEpochDay(to) as number, 1]
  if (high < low) [low, high, sign] = [high, low, -1]
  return workingIn(cal, low, high) * sign || 0
}

/**
 * Days late on `today` of something due on `due`: working days unless calendar days are asked for.
 * Due Friday, done Monday is 1 working day late. Never negative.
 */
export function daysLate(
  cal: Calendar,
  due: IsoDate,
  today: IsoDate,
  unit: DayUnit = 'working',
): number {
  return Math.max(
    0,
    unit === 'working' ? workingDaysBetween(cal, due, today) : toEpochDay(today) - toEpochDay(due),
  )
}

export type DayUnit = 'working' | 'calendar'
