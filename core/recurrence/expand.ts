import type { IsoDate, LocalTime } from '../brands.ts'
import { fromEpochDay, toEpochDay, toInstant, toLocal, weekdayOf } from '../calendar/dates.ts'
import type { RRule } from './rrule.ts'

/** A local date-time without a zone: an epoch day and seconds into it. */
interface Moment {
  readonly day: number
  readonly second: number
}

const DAY = 86_400
const LAST_DAY = 2_932_896
/**
 * Periods looked at in a row without finding a date before a rule counts as having none left. The
 * calendar repeats after 400 years, 4,800 months, 20,871 weeks or 146,097 days, and so does what
 * any interval of them meets.
 */
const EMPTY_PERIODS = {
  YEARLY: 400,
  MONTHLY: 4_800,
  WEEKLY: 20_871,
  DAILY: 146_097,
  HOURLY: 150_000,
  MINUTELY: 150_000,
  SECONDLY: 150_000,
}

const yearOf = (day: number): number => new Date(day * 86_400_000).getUTCFullYear()
const firstOf = (year: number, month = 0): number => Date.UTC(year, month, 1) / 86_400_000

/** A month (0 to 11) of a year, with its first day and the next month's. */
interface Month {
  readonly year: number
  readonly month: number
  readonly first: number
  readonly next: number
}

function monthOf(day: number): Month {
  const date = new Date(day * 86_400_000)
  const [year, month] = [date.getUTCFullYear(), date.getUTCMonth()]
  return { year, month, first: firstOf(year, month), next: firstOf(year, month + 1) }
}

/**
 * Day of the first week of a year: the week with at least four days in it (RFC 5545, BYWEEKNO; ISO
 * 8601 for Monday).
 */
function firstWeek(year: number, weekStart: number): number {
  const first = firstOf(year)
  const into = (weekdayOf(first) - weekStart + 7) % 7
  return into <= 3 ? first - into : first - into + 7
}

function inWeeks(day: number, weeks: readonly number[], weekStart: number): boolean {
  const monday = day - ((weekdayOf(day) - weekStart + 7) % 7)
  const year = yearOf(monday + 3)
  const first = firstWeek(year, weekStart)
  const total = (firstWeek(year + 1, weekStart) - first) / 7
  const week = (monday - first) / 7 + 1
  return weeks.includes(week) || weeks.includes(week - total - 1)
}

/**
 * The BY… parts that a day must meet, with what RFC 5545 takes from the start where they are
 * silent.
 */
function dayFilter(rule: RRule, start: Moment): (day: number, month: Month) => boolean {
  const { freq, byMonth, byWeekNo, byYearDay } = rule
  const from = new Date(start.day * 86_400_000)
  let { byDay, byMonthDay } = rule
  let months = byMonth
  if (!byDay && !byMonthDay && !byYearDay) {
    if (freq === 'WEEKLY' || byWeekNo) byDay = [{ weekday: weekdayOf(start.day), nth: 0 }]
    else if (freq === 'MONTHLY' || freq === 'YEARLY') {
      byMonthDay = [from.getUTCDate()]
      if (freq === 'YEARLY' && !months) months = [from.getUTCMonth() + 1]
    }
  }
  const withinMonth = freq === 'MONTHLY' || months !== undefined

  return (day, { year, month, first, next }) => {
    if (months && !months.includes(month + 1)) return false
    if (byMonthDay && !byMonthDay.includes(day - first + 1) && !byMonthDay.includes(day - next))
      return false
    if (
      byYearDay &&
      !byYearDay.includes(day - firstOf(year) + 1) &&
      !byYearDay.includes(day - firstOf(year + 1))
    )
      return false
    if (byWeekNo && !inWeeks(day, byWeekNo, rule.weekStart)) return false
    if (!byDay) return true
    const weekday = weekdayOf(day)
    return byDay.some(({ weekday: wanted, nth }) => {
      if (wanted !== weekday) return false
      if (nth === 0) return true
      if (nth > 0) return Math.floor((day - (withinMonth ? first : firstOf(year))) / 7) + 1 === nth
      return Math.floor(((withinMonth ? next : firstOf(year + 1)) - 1 - day) / 7) + 1 === -nth
    })
  }
}

/** The times of day that one day of a rule of days or longer takes. */
function timesOf(rule: RRule, start: Moment): number[] {
  const pick = (list: readonly number[] | undefined, own: number) => list ?? [own]
  const s = start.second
  const out: number[] = []
  for (const h of pick(rule.byHour, Math.floor(s / 3600)))
    for (const m of pick(rule.byMinute, Math.floor(s / 60) % 60))
      for (const x of pick(rule.bySecond, s % 60)) if (x < 60) out.push(h * 3600 + m * 60 + x)
  return out
}

/** The moments of one period, in order, told by their place: a year of minutes is never laid out. */
interface Moments {
  readonly size: number
  at(place: number): Moment
}

/** The places that BYSETPOS chooses of so many, in order. */
function placesOf(positions: readonly number[], size: number): number[] {
  const places = positions.map((p) => (p > 0 ? p - 1 : size + p))
  return [...new Set(places.filter((p) => p >= 0 && p < size))].sort((a, b) => a - b)
}

/** The chosen moments of a period from one on; earlier ones are passed by without being made. */
function* chosen(
  { size, at }: Moments,
  positions: readonly number[] | undefined,
  from: Moment,
): Generator<Moment> {
  if (positions) {
    for (const place of placesOf(positions, size)) yield at(place)
    return
  }
  let [low, high] = [0, size]
  while (low < high) {
    const middle = (low + high) >> 1
    if (before(at(middle), from)) low = middle + 1
    else high = middle
  }
  for (; low < size; low++) yield at(low)
}

/** How many of a rule's periods are passed by so as to begin near a later one, in whole intervals. */
const passed = (periods: number, interval: number): number =>
  Math.max(0, Math.floor(periods / interval) * interval)

/** How many periods of a frequency lie between the one of a day and the one of another. */
function periodsBetween(freq: RRule['freq'], weekOne: number, start: number, day: number): number {
  if (freq === 'DAILY') return day - start
  if (freq === 'WEEKLY') return Math.floor((day - weekOne) / 7)
  const [a, b] = [new Date(start * 86_400_000), new Date(day * 86_400_000)]
  const years = b.getUTCFullYear() - a.getUTCFullYear()
  return freq === 'YEARLY' ? years : years * 12 + b.getUTCMonth() - a.getUTCMonth()
}

/**
 * Periods of a day or longer, from the one that holds a day on: for each, the days in it that the
 * rule takes. Null marks an empty one.
 */
function* daySets(rule: RRule, start: Moment, begin: number): Generator<number[] | null> {
  const keep = dayFilter(rule, start)
  const span = (first: number, end: number): number[] | null => {
    const days: number[] = []
    let month = monthOf(first)
    for (let day = first; day < end; day++) {
      if (day >= month.next) month = monthOf(day)
      // A month that the rule leaves out is left out whole.
      if (rule.byMonth && !rule.byMonth.includes(month.month + 1)) day = month.next - 1
      else if (keep(day, month)) days.push(day)
    }
    return days.length ? days : null
  }
  const from = new Date(start.day * 86_400_000)
  const weekOne = start.day - ((weekdayOf(start.day) - rule.weekStart + 7) % 7)
  const skip = passed(periodsBetween(rule.freq, weekOne, start.day, begin), rule.interval)
  for (let i = skip; ; i += rule.interval) {
    let first: number
    let end: number
    if (rule.freq === 'YEARLY')
      [first, end] = [firstOf(from.getUTCFullYear() + i), firstOf(from.getUTCFullYear() + i + 1)]
    else if (rule.freq === 'MONTHLY')
      [first, end] = [
        firstOf(from.getUTCFullYear(), from.getUTCMonth() + i),
        firstOf(from.getUTCFullYear(), from.getUTCMonth() + i + 1),
      ]
    else if (rule.freq === 'WEEKLY') [first, end] = [weekOne + 7 * i, weekOne + 7 * i + 7]
    else [first, end] = [start.day + i, start.day + i + 1]
    if (!(first <= LAST_DAY)) return
    yield span(first, Math.min(end, LAST_DAY + 1))
  }
}

/** Whether a part that may not be given lets a value through. */
const takes = (part: readonly number[] | undefined, value: number): boolean =>
  part === undefined || part.includes(value)

/** The seconds of a day that an hour, a minute or a second of it takes; null for none. */
function timesWithin(
  rule: RRule,
  start: Moment,
  unit: number,
): (second: number) => number[] | null {
  const own = { minute: Math.floor(start.second / 60) % 60, second: start.second % 60 }
  return (at) => {
    const hour = Math.floor(at / 3600)
    const minute = Math.floor(at / 60) % 60
    const second = at % 60
    if (!takes(rule.byHour, hour)) return null
    if (unit < 3600 && !takes(rule.byMinute, minute)) return null
    if (unit === 1 && !takes(rule.bySecond, second)) return null
    const minutes = unit === 3600 ? (rule.byMinute ?? [own.minute]) : [minute]
    const seconds = unit === 1 ? [second] : (rule.bySecond ?? [own.second])
    return minutes.flatMap((m) =>
      seconds.filter((s) => s < 60).map((s) => hour * 3600 + m * 60 + s),
    )
  }
}

const UNITS: Readonly<Partial<Record<RRule['freq'], number>>> = {
  HOURLY: 3600,
  MINUTELY: 60,
  SECONDLY: 1,
}

/** Periods shorter than a day, of so many seconds; days that cannot match are skipped at once. */
function* timeSets(
  rule: RRule,
  start: Moment,
  { unit, begin }: { unit: number; begin: number },
): Generator<Moments | null> {
  const keep = dayFilter(rule, start)
  const times = timesWithin(rule, start, unit)
  const step = unit * rule.interval
  const base = start.second - (start.second % unit)
  let known = -1
  let kept = false
  const origin = start.day * DAY + base
  for (let at = origin + passed(begin * DAY - origin, step); ; at += step) {
    const day = Math.floor(at / DAY)
    if (day > LAST_DAY) return
    if (day !== known) [known, kept] = [day, keep(day, monthOf(day))]
    if (kept) {
      const seconds = times(at - day * DAY)
      yield seconds && { size: seconds.length, at: (i) => ({ day, second: seconds[i]! }) }
      continue
    }
    // Jump to the last period of this day; the loop's own step then enters the next.
    at += Math.floor(((day + 1) * DAY - at - 1) / step) * step
    yield null
  }
}

/** Days or longer: every day of a period at each of the rule's times. */
function* dayMoments(
  rule: RRule,
  start: Moment,
  { dated, begin }: { dated: boolean; begin: number },
): Generator<Moments | null> {
  const times = dated ? [0] : timesOf(rule, start)
  const each = times.length
  for (const days of daySets(rule, start, begin))
    yield (
      days && {
        size: days.length * each,
        at: (i) => ({ day: days[Math.floor(i / each)]!, second: times[i % each]! }),
      }
    )
}

const before = (a: Moment, b: Moment): boolean =>
  a.day < b.day || (a.day === b.day && a.second < b.second)

function lastMoment(rule: RRule, zone: string): Moment {
  const { until } = rule
  if (!until) return { day: LAST_DAY, second: DAY }
  if (until.time === null) return { day: toEpochDay(until.date), second: DAY }
  if (!until.utc) return { day: toEpochDay(until.date), second: secondsOf(until.time) }
  const local = toLocal(toInstant(until.date, until.time as LocalTime, 'UTC'), zone)
  return { day: toEpochDay(local.date), second: secondsOf(local.time) }
}

interface Span {
  readonly dated: boolean
  readonly from: Moment
  readonly last: Moment
}

/** The moments of a rule within a span, whatever its count; its cost is the span's alone. */
function* moments(rule: RRule, first: Moment, { dated, from, last }: Span): Generator<Moment> {
  const unit = UNITS[rule.freq]
  const begin = from.day
  let empty = 0
  for (const set of unit
    ? timeSets(rule, first, { unit, begin })
    : dayMoments(rule, first, { dated, begin })) {
    let some = false
    for (const moment of set ? chosen(set, rule.bySetPos, from) : []) {
      some = true
      if (before(last, moment)) return
      if (!before(moment, from)) yield moment
    }
    empty = some ? 0 : empty + 1
    if (empty > EMPTY_PERIODS[rule.freq]) return
    if (set?.size && before(last, set.at(set.size - 1))) return
  }
}

/** The last moment that a count leaves a rule, kept: it is reckoned once, however often it is asked. */
const counted = new Map<string, Moment>()
function lastCounted(rule: RRule, first: Moment, { dated, last }: Omit<Span, 'from'>): Moment {
  const key = JSON.stringify([rule, first, dated])
  const known = counted.get(key)
  if (known) return known
  let [left, end] = [rule.count!, last]
  for (const moment of moments(rule, first, { dated, from: first, last }))
    if (--left <= 0) {
      end = moment
      break
    }
  if (counted.size > 2_000) counted.clear()
  counted.set(key, end)
  return end
}

const secondsOf = (time: string): number =>
  +time.slice(0, 2) * 3600 + +time.slice(3, 5) * 60 + (+time.slice(6, 8) || 0)

const timeText = (second: number): LocalTime => {
  const two = (n: number) => String(n).padStart(2, '0')
  const s = second % 60
  return `${two(Math.floor(second / 3600))}:${two(Math.floor(second / 60) % 60)}${s ? `:${two(s)}` : ''}` as LocalTime
}

/**
 * The local dates (and times) of an RFC 5545 rule from its start, in order, one by one; ends by
 * itself when the rule does, and when nothing is left to find up to the year 9999. The zone is
 * attached by the caller, last; here it only places an UNTIL given in UTC. A start that does not
 * match the rule is not one of its dates. Where the start has no time, parts finer than a day are
 * ignored, as the RFC asks. `from` begins at a later date, at the cost of what is asked for and not
 * of the rule's age.
 */
export function* expand(
  rule: RRule,
  start: { date: IsoDate; time: LocalTime | null },
  { zone, from }: { zone: string; from?: IsoDate },
): Generator<{ date: IsoDate; time: LocalTime | null }> {
  const dated = start.time === null
  const first: Moment = { day: toEpochDay(start.date), second: dated ? 0 : secondsOf(start.time!) }
  const later = from !== undefined && from > start.date
  const begin = later ? { day: toEpochDay(from), second: 0 } : first
  const until = lastMoment(rule, zone)
  const last = later && rule.count ? lastCounted(rule, first, { dated, last: until }) : until
  let left = later ? Infinity : (rule.count ?? Infinity)
  for (const { day, second } of moments(rule, first, { dated, from: begin, last })) {
    yield { date: fromEpochDay(day), time: dated ? null : timeText(second) }
    if (--left <= 0) return
  }
}
