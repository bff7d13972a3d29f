import type { LocalTime } from '../brands.ts'
import { dayOf, monthNumber, secondsOf, toEpochDay, weekdayOf } from '../calendar/dates.ts'
import { zoneOf } from '../calendar/zone.ts'
import { kept } from '../kept.ts'
import { refuse } from '../refusal.ts'
import type { RRule } from './rrule.ts'

/**
 * What an RFC 5545 rule says, in local times without a zone: seconds since the start of 1970, as if
 * there were no zones. Days are epoch days. Nothing begins at the start of a rule when it need not.
 */

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

/** The first day of a month, 0 to 11, or of one so many months on. */
const firstOf = (year: number, month = 0): number =>
  dayOf(year + Math.floor(month / 12), (month % 12) + 1, 1)

/** A month (0 to 11) of a year, with its first day and the next month's. */
interface Month {
  readonly year: number
  readonly month: number
  readonly first: number
  readonly next: number
}
/** Months by their number from year 0 on; rules asked one after the other meet the same ones. */
const numbered = kept(5_000, (number: number): Month => {
  const year = Math.floor(number / 12)
  const month = number - 12 * year
  return { year, month, first: firstOf(year, month), next: firstOf(year, month + 1) }
})
const monthOf = (day: number): Month => numbered(monthNumber(day))

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
  const { year } = monthOf(monday + 3)
  const first = firstWeek(year, weekStart)
  const total = (firstWeek(year + 1, weekStart) - first) / 7
  const week = (monday - first) / 7 + 1
  return weeks.includes(week) || weeks.includes(week - total - 1)
}

/** Small numbers as bits: whether one is among them is one step. */
const bits = (list: readonly number[]): number => list.reduce((all, n) => all | (1 << n), 0)
const has = (all: number, n: number): boolean => ((all >> n) & 1) === 1

/**
 * The BY… parts that a day must meet, with what RFC 5545 takes from the start where they are
 * silent.
 */
interface Parts {
  readonly byDay?: RRule['byDay'] | undefined
  readonly byMonthDay?: RRule['byMonthDay'] | undefined
  readonly byMonth?: RRule['byMonth'] | undefined
}
function partsFrom(rule: RRule, start: number): Parts {
  const { freq, byDay, byMonthDay, byMonth } = rule
  if (byDay || byMonthDay || rule.byYearDay) return { byDay, byMonthDay, byMonth }
  if (freq === 'WEEKLY' || rule.byWeekNo)
    return { byDay: [{ weekday: weekdayOf(start), nth: 0 }], byMonth }
  if (freq !== 'MONTHLY' && freq !== 'YEARLY') return { byMonth }
  const { month, first } = monthOf(start)
  const own = freq === 'YEARLY' ? [month + 1] : undefined
  return { byMonthDay: [start - first + 1], byMonth: byMonth ?? own }
}

/** Whether a day is one that a rule takes. */
type Keeps = (day: number, month: Month) => boolean
interface Days {
  readonly keeps: Keeps
  /** Months that are taken, as bits; null for all. */
  readonly months: number | null
}
function nthOf({ weekday, nth }: { weekday: number; nth: number }, withinMonth: boolean): Keeps {
  return (day, { year, first, next }) => {
    if (weekdayOf(day) !== weekday) return false
    if (nth > 0) return Math.floor((day - (withinMonth ? first : firstOf(year))) / 7) + 1 === nth
    return Math.floor(((withinMonth ? next : firstOf(year + 1)) - 1 - day) / 7) + 1 === -nth
  }
}
function byDayKeeps(byDay: NonNullable<RRule['byDay']>, withinMonth: boolean): Keeps {
  const every = bits(byDay.flatMap(({ weekday, nth }) => (nth === 0 ? [weekday] : [])))
  const some = byDay.filter(({ nth }) => nth !== 0).map((one) => nthOf(one, withinMonth))
  if (some.length === 0) return (day) => has(every, weekdayOf(day))
  return (day, month) => has(every, weekdayOf(day)) || some.some((keeps) => keeps(day, month))
}
function byMonthDayKeeps(byMonthDay: readonly number[]): Keeps {
  const from = bits(byMonthDay.filter((n) => n > 0))
  const back = bits(byMonthDay.flatMap((n) => (n < 0 ? [-n] : [])))
  return (day, { first, next }) => has(from, day - first + 1) || has(back, next - day)
}
const byYearDayKeeps =
  (byYearDay: readonly number[]): Keeps =>
  (day, { year }) =>
    byYearDay.includes(day - firstOf(year) + 1) || byYearDay.includes(day - firstOf(year + 1))

function daysOf(rule: RRule, start: number): Days {
  const { byDay, byMonthDay, byMonth } = partsFrom(rule, start)
  const { byYearDay, byWeekNo, weekStart } = rule
  const months = byMonth ? bits(byMonth) : null
  const tests: Keeps[] = []
  if (byMonthDay) tests.push(byMonthDayKeeps(byMonthDay))
  if (byYearDay) tests.push(byYearDayKeeps(byYearDay))
  if (byWeekNo) tests.push((day) => inWeeks(day, byWeekNo, weekStart))
  if (byDay) tests.push(byDayKeeps(byDay, rule.freq === 'MONTHLY' || byMonth !== undefined))
  const [first, second] = tests
  if (!first) return { months, keeps: () => true }
  if (!second) return { months, keeps: first }
  return { months, keeps: (day, month) => tests.every((test) => test(day, month)) }
}
const takesMonth = ({ months }: Days, { month }: Month): boolean =>
  months === null || has(months, month + 1)

/** The times of day that one day of a rule of days or longer takes. */
function timesOf(rule: RRule, second: number): number[] {
  const pick = (list: readonly number[] | undefined, own: number) => list ?? [own]
  const out: number[] = []
  for (const h of pick(rule.byHour, Math.floor(second / 3600)))
    for (const m of pick(rule.byMinute, Math.floor(second / 60) % 60))
      for (const x of pick(rule.bySecond, second % 60)) if (x < 60) out.push(h * 3600 + m * 60 + x)
  return out
}

/** The places that BYSETPOS chooses of so many, in order. */
function placesOf(positions: readonly number[], size: number): number[] {
  const places = positions.map((p) => (p > 0 ? p - 1 : size + p))
  return [...new Set(places.filter((p) => p >= 0 && p < size))].sort((a, b) => a - b)
}
/**
 * The moments of one period, in order: its days at each of some times, or the places of them that are
 * chosen. A year of minutes is never laid out.
 */
class Period {
  readonly size: number
  private readonly places: readonly number[] | null
  constructor(
    readonly days: readonly number[],
    readonly times: readonly number[],
    positions?: readonly number[],
  ) {
    const size = days.length * times.length
    this.places = positions ? placesOf(positions, size) : null
    this.size = this.places?.length ?? size
  }
  at(nth: number): number {
    const { days, times, places } = this
    const place = places ? places[nth]! : nth
    if (times.length === 1) return days[place]! * DAY + times[0]!
    return days[Math.floor(place / times.length)]! * DAY + times[place % times.length]!
  }
  /** Which is the first that lies at a moment or later. */
  firstFrom(from: number): number {
    if (this.size === 0 || this.at(0) >= from) return 0
    let [low, high] = [1, this.size]
    while (low < high) {
      const middle = (low + high) >> 1
      if (this.at(middle) < from) low = middle + 1
      else high = middle
    }
    return low
  }
}
const NONE = new Period([], [])
/** Gives one period after the other, and nothing at the end. */
type Periods = () => Period | undefined

/** How many of a rule's periods are passed by so as to begin near a later one, in whole intervals. */
const passed = (periods: number, interval: number): number =>
  Math.max(0, Math.floor(periods / interval) * interval)

/** How many periods of a frequency lie between the one of a day and the one of another. */
function periodsBetween(freq: RRule['freq'], weekOne: number, start: number, day: number): number {
  if (freq === 'DAILY') return day - start
  if (freq === 'WEEKLY') return Math.floor((day - weekOne) / 7)
  const [a, b] = [monthOf(start), monthOf(day)]
  const years = b.year - a.year
  return freq === 'YEARLY' ? years : years * 12 + b.month - a.month
}

/** The first day of a rule's periods: of the n-th after the one of the start. */
function periodsOf({ freq, weekStart }: RRule, start: number): (nth: number) => number {
  if (freq === 'DAILY') return (nth) => start + nth
  const weekOne = start - ((weekdayOf(start) - weekStart + 7) % 7)
  if (freq === 'WEEKLY') return (nth) => weekOne + 7 * nth
  const { year, month } = monthOf(start)
  return freq === 'YEARLY' ? (nth) => firstOf(year + nth) : (nth) => firstOf(year, month + nth)
}

/** The days of a stretch that a rule takes; a month that it leaves out is left out whole. */
function daysWithin(days: Days, first: number, end: number): number[] {
  const out: number[] = []
  for (let from = first; from < end;) {
    const month = monthOf(from)
    const to = Math.min(end, month.next)
    if (takesMonth(days, month))
      for (let day = from; day < to; day++) if (days.keeps(day, month)) out.push(day)
    from = to
  }
  return out
}

/** A rule as it is gone through: from its start, whose day and time are told apart. */
interface Going {
  readonly rule: RRule
  readonly day: number
  readonly second: number
  readonly dated: boolean
  /** The day that it begins at, which may be long after the start. */
  readonly begin: number
}

/** Periods of a day or longer, from the one that holds a day on. */
function dayPeriods({ rule, day, second, dated, begin }: Going): Periods {
  const days = daysOf(rule, day)
  const times = dated ? [0] : timesOf(rule, second)
  const firstDay = periodsOf(rule, day)
  let nth = passed(periodsBetween(rule.freq, firstDay(0), day, begin), rule.interval)
  return () => {
    const first = firstDay(nth)
    if (!(first <= LAST_DAY)) return undefined
    const found = daysWithin(days, first, Math.min(firstDay(nth + 1), LAST_DAY + 1))
    nth += rule.interval
    return found.length === 0 ? NONE : new Period(found, times, rule.bySetPos)
  }
}

/** Whether a part that may not be given lets a value through. */
const takes = (part: readonly number[] | undefined, value: number): boolean =>
  part === undefined || part.includes(value)

/** The seconds of a day that an hour, a minute or a second of it takes; null for none. */
function timesWithin(
  rule: RRule,
  own: { readonly minute: number; readonly second: number },
  unit: number,
): (second: number) => number[] | null {
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
function timePeriods({ rule, day: start, second, begin }: Going, unit: number): Periods {
  const days = daysOf(rule, start)
  const own = { minute: Math.floor(second / 60) % 60, second: second % 60 }
  const times = timesWithin(rule, own, unit)
  const step = unit * rule.interval
  const origin = start * DAY + second - (second % unit)
  let at = origin + passed(begin * DAY - origin, step)
  let known = -1
  let kept = false
  return () => {
    const day = Math.floor(at / DAY)
    if (day > LAST_DAY) return undefined
    if (day !== known) {
      const month = monthOf(day)
      ;[known, kept] = [day, takesMonth(days, month) && days.keeps(day, month)]
    }
    const into = at - day * DAY
    // On to the next period; from a day that is left out, to the first of the day after.
    at += kept ? step : (Math.floor((DAY - into - 1) / step) + 1) * step
    const seconds = kept ? times(into) : null
    return seconds ? new Period([day], seconds, rule.bySetPos) : NONE
  }
}

/** The last local time of a rule, itself among them; one given in UTC is read in the zone. */
function lastOf({ until }: RRule, zone: string): number {
  if (!until) return (LAST_DAY + 1) * DAY
  const midnight = toEpochDay(until.date) * DAY
  if (until.time === null) return midnight + DAY - 1
  const at = midnight + secondsOf(until.time as LocalTime)
  return until.utc ? zoneOf(zone).local(at) : at
}

/** The moments of a rule within a span (both ends), whatever its count; its cost is the span's. */
function* moments(going: Going, from: number, last: number): Generator<number> {
  const { rule } = going
  const unit = UNITS[rule.freq]
  const next = unit ? timePeriods(going, unit) : dayPeriods(going)
  let empty = 0
  for (let period = next(); period; period = next()) {
    if (period.days[0]! * DAY > last) return
    const begun = period.firstFrom(from)
    for (let nth = begun; nth < period.size; nth++) {
      const moment = period.at(nth)
      if (moment > last) return
      yield moment
    }
    empty = begun < period.size ? 0 : empty + 1
    if (empty > EMPTY_PERIODS[rule.freq]) return
  }
}

/** Seconds between two dates of a rule that is a step and nothing else; null for all others. */
function stepOf({ rule, dated }: Going): number | null {
  const { freq, interval } = rule
  const plain = Object.keys(rule).every((part) => !part.startsWith('by'))
  const unit = { ...UNITS, DAILY: DAY, WEEKLY: 7 * DAY, MONTHLY: 0, YEARLY: 0 }[freq]
  return plain && unit && !(dated && unit < DAY) ? unit * interval : null
}
/** As many dates as are counted one by one. */
const MOST_COUNTED = 2_000_000
/** The last moment that a count leaves a rule, counted from its start. */
function reckoned(going: Going, start: number, last: number): number {
  const count = going.rule.count!
  const step = stepOf(going)
  if (step !== null) return Math.min(last, start + (count - 1) * step)
  let left = count
  for (const moment of moments({ ...going, begin: going.day }, start, last)) {
    if (--left <= 0) return moment
    if (count - left > MOST_COUNTED)
      refuse(
        'bad-rule',
        `rule: COUNT=${count} is more than is counted through; end it by UNTIL.`,
        'rule',
      )
  }
  return last
}
/** The same, reckoned once for each rule and start, however often asked. */
const counted = new WeakMap<RRule, Map<string, number>>()
const MOST_STARTS = 5_000
function lastCounted(going: Going, start: number, last: number): number {
  const { rule, dated } = going
  const known = counted.get(rule) ?? new Map<string, number>()
  counted.set(rule, known)
  const key = `${start} ${dated} ${last}`
  const end = known.get(key) ?? reckoned(going, start, last)
  if (known.size >= MOST_STARTS) known.clear()
  known.set(key, end)
  return end
}

/**
 * The local times of an RFC 5545 rule from its start, in order, one by one, in seconds since 1970; ends
 * by itself when the rule does, and when nothing is left to find up to the year 9999. The zone is
 * attached by the caller, last; here it only places an UNTIL given in UTC. A start that does not
 * match the rule is not one of its dates. Where the start is a date (`dated`), parts finer than a day
 * are ignored, as the RFC asks. `from` begins at a later local time, at the cost of what is asked for
 * and not of the rule's age: a count's last date is reckoned once and kept.
 * @throws Refusal `bad-rule` where more would have to be counted than can be
 */
export function expand(
  rule: RRule,
  start: number,
  { dated, zone, from = start }: { dated: boolean; zone: string; from?: number },
): Generator<number> {
  const begin = Math.max(from, start)
  const day = Math.floor(start / DAY)
  const second = start - day * DAY
  const going: Going = { rule, day, second, dated, begin: Math.floor(begin / DAY) }
  const found = counting(going, { start, begin, until: lastOf(rule, zone) })
  return dated && UNITS[rule.freq] ? daysOfAll(found) : found
}
/** Stops where a count does: by its last date where the rule is begun later than at its start. */
function counting(
  going: Going,
  { start, begin, until }: { start: number; begin: number; until: number },
): Generator<number> {
  const { count } = going.rule
  if (!count) return moments(going, begin, until)
  if (begin > start) return moments(going, begin, lastCounted(going, start, until))
  return firstOnes(moments(going, begin, until), count)
}
/** Moments of dates without times, finer than a day: each day once. */
function* daysOfAll(all: Iterable<number>): Generator<number> {
  let last = NaN
  for (const moment of all) {
    const midnight = Math.floor(moment / DAY) * DAY
    if (midnight !== last) yield (last = midnight)
  }
}
function* firstOnes(all: Iterable<number>, count: number): Generator<number> {
  let left = count
  for (const moment of all) {
    yield moment
    if (--left <= 0) return
  }
}
