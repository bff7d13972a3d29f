import type { IsoDate, LocalStamp } from '../brands.ts'
import type { Calendar } from '../calendar/calendar.ts'
import { localStamp, localTime, stamp, toInstant } from '../calendar/dates.ts'
import {
  nextPeriod,
  occurrences,
  occurrencesAfter,
  occurrencesFrom,
  periodStart,
  type Occurrence,
  type Schedule,
  type WorkdayOrdinal,
} from './schedule.ts'

/** What a person decided about one date of a schedule: where it falls instead; null, it is left out. */
export interface ByHand {
  readonly scheduled: LocalStamp
  readonly date: LocalStamp | null
}
/** How far a series has come with its dates. */
export interface Standing {
  /** Up to here all is dealt with, but for what was moved by hand; null before the first. */
  readonly reached: LocalStamp | null
  /** What was dealt with last, and besides, by its scheduled time. */
  readonly settled: ReadonlySet<LocalStamp>
  readonly byHand: readonly ByHand[]
  /** Dates that are rolled onto one day are each their own, not one. */
  readonly each?: boolean
}
/** A date that is still to come. */
export interface Coming extends Occurrence {
  /** A person moved it. */
  readonly byHand: boolean
  /** The dates that fall on it as well, and are one with it. */
  readonly joins: readonly LocalStamp[]
}

/**
 * What a date is known by in its schedule: its scheduled time; of the n-th working days, the period,
 * since other holidays move them within it.
 */
export function identityOf({ rule }: Pick<Schedule, 'rule'>): (scheduled: LocalStamp) => string {
  if (typeof rule === 'string') return (scheduled) => scheduled
  return (scheduled) => periodStart(localStamp(scheduled).date, rule.of)
}

/** Whether a schedule has a date of that identity. */
export function hasDate(schedule: Schedule, cal: Calendar, scheduled: LocalStamp): boolean {
  const identity = identityOf(schedule)
  const from = typeof schedule.rule === 'string' ? scheduled : identity(scheduled)
  for (const each of occurrences(schedule, cal, localStamp(from).date)) {
    if (identity(each.scheduled) === identity(scheduled)) return true
    if (each.scheduled > scheduled) return false
  }
  return false
}

/** What was moved by hand and is still to come, in the order of where it falls. */
function movedOnes(schedule: Schedule, cal: Calendar, standing: Standing): Coming[] {
  const { reached, settled, byHand } = standing
  const { zone } = schedule
  return byHand
    .flatMap(({ scheduled, date }): Coming[] => {
      if (date === null || settled.has(scheduled)) return []
      // What the schedule does not hold any more cannot be moved either.
      const ahead = reached === null || scheduled > reached
      if (ahead && !hasDate(schedule, cal, scheduled)) return []
      const { date: day, time } = localStamp(date)
      const instant = toInstant(day, time, zone)
      return [{ scheduled, date, instant, moved: null, byHand: true, joins: [] }]
    })
    .sort(byDate)
}
const byDate = (a: Coming, b: Coming): number => (a.date < b.date ? -1 : a.date > b.date ? 1 : 0)

/** Those of one day, of which some may fall on the same time; in the order of where they fall. */
function joined(day: readonly Occurrence[], each: boolean): Coming[] {
  if (each || day.length === 1)
    return day.map((one) => ({ ...one, byHand: false, joins: [] })).sort(byDate)
  const found = new Map<string, Coming & { joins: LocalStamp[] }>()
  for (const one of day) {
    const first = found.get(one.date)
    if (first) first.joins.push(one.scheduled)
    else found.set(one.date, { ...one, byHand: false, joins: [] })
  }
  return [...found.values()].sort(byDate)
}

/** What a schedule brings by itself, day by day. */
function* days(all: Iterable<Occurrence>, each: boolean): Generator<Coming> {
  let day: Occurrence[] = []
  for (const one of all) {
    if (day.length && day[0]!.date.slice(0, 10) !== one.date.slice(0, 10)) {
      yield* joined(day, each)
      day = []
    }
    day.push(one)
  }
  if (day.length) yield* joined(day, each)
}

/**
 * The dates of a series that are still to come, in the order of where they fall, lazily: without what
 * is dealt with or left out, with what was moved by hand in its new place. Dates that are rolled onto
 * one time are one that names the others. `from` leaves out those that fall on earlier days.
 * @throws Refusal as `occurrences`
 */
export function* coming(
  schedule: Schedule,
  cal: Calendar,
  standing: Standing,
  from?: IsoDate,
): Generator<Coming> {
  const { reached, byHand, each = false } = standing
  const identity = identityOf(schedule)
  const decided = new Set(byHand.map(({ scheduled }) => identity(scheduled)))
  const settled = new Set([...standing.settled].map(identity))
  const isOpen = (scheduled: LocalStamp) => {
    const key = identity(scheduled)
    return (reached === null || scheduled > reached) && !settled.has(key) && !decided.has(key)
  }
  const open = function* (): Generator<Occurrence> {
    const all = from
      ? occurrencesFrom(schedule, cal, from)
      : occurrencesAfter(schedule, cal, reached)
    for (const one of all) if (isOpen(one.scheduled)) yield one
  }
  const moved = movedOnes(schedule, cal, standing).filter(
    ({ date }) => !from || date >= (from as string),
  )
  let next = 0
  for (const one of days(open(), each)) {
    while (next < moved.length && moved[next]!.date <= one.date) yield moved[next++]!
    yield one
  }
  while (next < moved.length) yield moved[next++]!
}

/**
 * How far a schedule that is new to a series counts as served by the date it made last: that day, and
 * the period it lies in where the schedule has one date in that. An edited time makes no period again.
 */
export function servedUpTo(
  schedule: Schedule,
  cal: Calendar,
  last: LocalStamp,
  period: WorkdayOrdinal['of'],
): LocalStamp {
  const { date } = localStamp(last)
  const first = periodStart(date, period)
  const after = nextPeriod(first, period)
  const inPeriod: Occurrence[] = []
  for (const one of occurrences(schedule, cal, first)) {
    if (one.scheduled >= (after as string) || inPeriod.push(one) > 1) break
  }
  const [only] = inPeriod
  const served =
    only && inPeriod.length === 1 && only.scheduled > (date as string) ? only.scheduled : date
  return stamp(localStamp(served).date, localTime('23:59:59'))
}
