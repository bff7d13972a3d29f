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

function choose<T>(set: readonly T[], positions: readonly number[] | undefined): readonly T[] {
  if (!positions) return set
  return set.filter((_, i) => positions.includes(i + 1) || positions.includes(i - set.length))
}

/**
 * Periods of a day or longer: for each, the days in it that the rule takes. Null marks an empty
 * one.
 */
function* daySets(rule: RRule, start: Moment): Generator<number[] | null> {
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
  for (let i = 0; ; i += rule.interval) {
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

/** Periods shorter than a day, days that cannot match skipped at once. */
function* timeSets(rule: RRule, start: Moment): Generator<Moment[] | null> {
  const keep = dayFilter(rule, start)
  const unit = rule.freq === 'HOURLY' ? 3600 : rule.freq === 'MINUTELY' ? 60 : 1
  const step = unit * rule.interval
  const base = start.second - (start.second % unit)
  let known = -1
  let kept = false
  for (let at = start.day * DAY + base; ; at += step) {
    const day = Math.floor(at / DAY)
    if (day > LAST_DAY) return
    if (day !== known) [known, kept] = [day, keep(day, monthOf(day))]
    if (!kept) {
      // Jump to the last period of this day; the loop's own step then enters the next.
      const left = (day + 1) * DAY - at
      at += Math.floor((left - 1) / step) * step
      yield null
      continue
    }
    const second = at - day * DAY
    const h = Math.floor(second / 3600)
    const m = Math.floor(second / 60) % 60
    if (
      (rule.byHour && !rule.byHour.includes(h)) ||
      (unit < 3600 && rule.byMinute && !rule.byMinute.includes(m)) ||
      (unit === 1 && rule.bySecond && !rule.bySecond.includes(second % 60))
    ) {
      yield null
      continue
    }
    const minutes = unit === 3600 ? (rule.byMinute ?? [Math.floor(start.second / 60) % 60]) : [m]
    const seconds = unit === 1 ? [second % 60] : (rule.bySecond ?? [start.second % 60])
    yield minutes.flatMap((mm) =>
      seconds.filter((x) => x < 60).map((x) => ({ day, second: h * 3600 + mm * 60 + x })),
    )
  }
}

function lastMoment(rule: RRule, zone: string): Moment {
  const { until } = rule
  if (!until) return { day: LAST_DAY, second: DAY }
  if (until.time === null) return { day: toEpochDay(until.date), second: DAY }
  if (!until.utc) return { day: toEpochDay(until.date), second: secondsOf(until.time) }
  const local = toLocal(toInstant(until.date, until.time as LocalTime, 'UTC'), zone)
  return { day: toEpochDay(local.date), second: secondsOf(local.time) }
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
 * ignored, as the RFC asks.
 */
export function* expand(
  rule: RRule,
  start: { date: IsoDate; time: LocalTime | null },
  zone: string,
): Generator<{ date: IsoDate; time: LocalTime | null }> {
  const dated = start.time === null
  const first: Moment = { day: toEpochDay(start.date), second: dated ? 0 : secondsOf(start.time!) }
  const last = lastMoment(rule, zone)
  const long =
    rule.freq === 'YEARLY' ||
    rule.freq === 'MONTHLY' ||
    rule.freq === 'WEEKLY' ||
    rule.freq === 'DAILY'
  const times = dated ? [0] : timesOf(rule, first)
  const sets = long ? daySets(rule, first) : timeSets(rule, first)
  let left = rule.count ?? Infinity
  let empty = 0
  for (const set of sets) {
    const moments = !set
      ? []
      : typeof set[0] === 'number'
        ? (set as number[]).flatMap((day) => times.map((second) => ({ day, second })))
        : (set as Moment[])
    const chosen = choose(moments, rule.bySetPos)
    if (chosen.length === 0) {
      if (++empty > EMPTY_PERIODS[rule.freq]) return
    } else empty = 0
    for (const { day, second } of chosen) {
      if (day < first.day || (day === first.day && second < first.second)) continue
      if (day > last.day || (day === last.day && second > last.second) || left <= 0) return
      left--
      yield { date: fromEpochDay(day), time: dated ? null : timeText(second) }
    }
    if (left <= 0) return
    const reached = moments[moments.length - 1]
    if (
      reached &&
      (reached.day > last.day || (reached.day === last.day && reached.second > last.second))
    )
      return
  }
}
