import type { Instant, IsoDate, LocalStamp, LocalTime } from '../brands.ts'
import {
  addWorking,
  addWorkingDays,
  holidayOnDay,
  rollDay,
  type Calendar,
  type Roll,
} from '../calendar/calendar.ts'
import {
  addDays,
  fromEpochDay,
  isoDate,
  localStamp,
  secondsOf,
  stamp,
  timeOfDay,
  toEpochDay,
  weekdayOf,
} from '../calendar/dates.ts'
import { zoneOf, type Zone } from '../calendar/zone.ts'
import { kept } from '../kept.ts'
import { refuse } from '../refusal.ts'
import { expand } from './expand.ts'
import { parseRRule, type RRule } from './rrule.ts'

export const PERIODS = ['week', 'month', 'quarter', 'year'] as const

/**
 * The n-th working day of each period, counted from its end when negative. Weeks start on Monday.
 */
export interface WorkdayOrdinal {
  readonly workday: number
  readonly of: (typeof PERIODS)[number]
  /** How many of them there are, or the last date there may be one on; for ever, where neither is. */
  readonly count?: number
  readonly until?: IsoDate
}

/** When a series has its occurrences: `rule` is an RFC 5545 RRULE or a working-day ordinal. */
export interface Schedule {
  readonly start: LocalStamp
  readonly zone: string
  readonly rule: string | WorkdayOrdinal
  /** Scheduled dates (or date-times) left out; a date alone leaves out all on that day. */
  readonly exclude?: readonly string[]
  /** Dates added; one without a time takes the start's. */
  readonly include?: readonly string[]
  readonly roll?: Roll
}

/** What becomes of an occurrence when the one before is still open; chosen per series. */
export const OVERLAPS = ['make-anyway', 'hold', 'close-as-missed', 'move-forward'] as const
export type OverlapPolicy = (typeof OVERLAPS)[number]
/** What is made up for after a time when nothing ran; chosen per series. */
export const CATCH_UPS = ['each', 'latest', 'none'] as const
export type CatchUpPolicy = (typeof CATCH_UPS)[number]

/** One occurrence of a schedule. */
export interface Occurrence {
  /** Identity: the local date-time before rolling, before any clock change and any hand move. */
  readonly scheduled: LocalStamp
  /** The local date-time it falls on. */
  readonly date: LocalStamp
  readonly instant: Instant
  /** Why `date` is not `scheduled`; null where they are the same. */
  readonly moved: {
    readonly because: 'weekend' | 'holiday' | 'clock-change'
    readonly name: string
  } | null
}

const DAY = 86_400
/** The last of so many n-th working days, in local seconds; kept for each calendar. */
const lastOrdinals = new WeakMap<Calendar, (key: string) => number>()
function lastOrdinal(rule: WorkdayOrdinal, start: number, cal: Calendar): number {
  let lasts = lastOrdinals.get(cal)
  if (!lasts) {
    lasts = kept(5_000, (key) => {
      const [workday, of, count, start] = JSON.parse(key)
      let left: number = count
      for (const each of openOrdinals({ workday, of }, start, { cal, from: start }))
        if (--left === 0) return each
      return Infinity
    })
    lastOrdinals.set(cal, lasts)
  }
  return lasts(JSON.stringify([rule.workday, rule.of, rule.count, start]))
}
/** The n-th working days of the periods, at the time of a start, from a local time on. */
function* ordinals(
  rule: WorkdayOrdinal,
  start: number,
  { cal, from }: { cal: Calendar; from: number },
): Generator<number> {
  const { until, count } = rule
  const day = until === undefined ? Infinity : (toEpochDay(until) + 1) * DAY - 1
  const last = count === undefined ? day : Math.min(day, lastOrdinal(rule, start, cal))
  for (const each of openOrdinals(rule, start, { cal, from })) {
    if (each > last) return
    yield each
  }
}
/** The same without an end. */
function* openOrdinals(
  rule: WorkdayOrdinal,
  start: number,
  { cal, from }: { cal: Calendar; from: number },
): Generator<number> {
  const n = rule.workday
  const time = start - Math.floor(start / DAY) * DAY
  const begin = Math.floor(Math.max(from, start) / DAY)
  let first = toEpochDay(periodStart(fromEpochDay(begin), rule.of))
  for (let empty = 0; empty < 600;) {
    const next = toEpochDay(nextPeriod(fromEpochDay(first), rule.of))
    // Counting from the day before the period (or the first after it) makes the n-th in it plain
    // addition.
    const day =
      n > 0 ? addWorking(cal, first - 1, n, 'preceding') : addWorking(cal, next, n, 'following')
    const inside = day >= first && day < next
    if (inside) empty = 0
    else empty++
    if (inside && day >= begin) yield day * DAY + time
    if (next >= LAST_PERIOD) return
    first = next
  }
}
/** Nothing is looked for beyond the year 9990. */
const LAST_PERIOD = Date.UTC(9990, 0, 1) / 86_400_000

/** The first day of the week (Monday), month, quarter or year that a date is in. */
export function periodStart(date: IsoDate, of: WorkdayOrdinal['of']): IsoDate {
  if (of === 'week') return addDays(date, 1 - weekdayOf(toEpochDay(date)))
  const month = +date.slice(5, 7) - 1
  const first = of === 'month' ? month : of === 'quarter' ? month - (month % 3) : 0
  return fromEpochDay(Date.UTC(+date.slice(0, 4), first, 1) / 86_400_000)
}

/** The first day of the period after the one that starts on `first`. */
export function nextPeriod(first: IsoDate, of: WorkdayOrdinal['of']): IsoDate {
  if (of === 'week') return addDays(first, 7)
  const months = of === 'month' ? 1 : of === 'quarter' ? 3 : 12
  return fromEpochDay(Date.UTC(+first.slice(0, 4), +first.slice(5, 7) - 1 + months, 1) / 86_400_000)
}

/** As many working days as may be counted to an end. */
const MOST_ORDINALS = 10_000
function checkedOrdinal(rule: WorkdayOrdinal): WorkdayOrdinal {
  if (!PERIODS.includes(rule.of))
    refuse('bad-rule', 'rule.of: use week, month, quarter or year.', 'rule.of')
  if (!Number.isInteger(rule.workday) || rule.workday === 0 || Math.abs(rule.workday) > 262)
    refuse(
      'bad-rule',
      'rule.workday: use 1 for the first working day, -1 for the last, up to ±262.',
      'rule.workday',
    )
  if (rule.count !== undefined && !(Number.isInteger(rule.count) && rule.count > 0))
    refuse('bad-rule', 'rule.count: use a whole number from 1.', 'rule.count')
  if (rule.count !== undefined && rule.count > MOST_ORDINALS)
    refuse('bad-rule', `rule.count: use ${MOST_ORDINALS} at the most.`, 'rule.count')
  if (rule.until !== undefined) isoDate(rule.until, 'rule.until')
  return rule
}

/** A local time in seconds since 1970 as if there were no zones; a date alone is its midnight. */
const localSeconds = ({ date, time }: { date: IsoDate; time: LocalTime | null }): number =>
  toEpochDay(date) * DAY + (time === null ? 0 : secondsOf(time))

/** A schedule as it is reckoned with. */
interface Reckoned {
  readonly dated: boolean
  readonly start: number
  readonly rule: RRule | WorkdayOrdinal
  readonly zone: Zone
  readonly zoneName: string
  readonly roll: Roll
  readonly cal: Calendar
}

/** Rules are texts that come again with every question: each is read once. */
const readRule = kept(5_000, parseRRule)
const isOrdinal = (rule: RRule | WorkdayOrdinal): rule is WorkdayOrdinal => 'workday' in rule

function ruled({ dated, start, rule, zoneName, cal }: Reckoned, from: number): Generator<number> {
  return isOrdinal(rule)
    ? ordinals(rule, start, { cal, from })
    : expand(rule, start, { dated, zone: zoneName, from })
}

/** What a rule says with what is added to it, in order, each once. */
function* merged(rule: Iterable<number>, extra: readonly number[]): Generator<number> {
  let i = 0
  let last = -Infinity
  for (const next of rule) {
    for (; i < extra.length && extra[i]! <= next; i++)
      if (extra[i]! !== last) yield (last = extra[i]!)
    if (next !== last) yield (last = next)
  }
  for (; i < extra.length; i++) if (extra[i]! !== last) yield (last = extra[i]!)
}

/** What a schedule leaves out, as stamps; a date alone is all of that day. */
function leftOut({ exclude }: Schedule): ReadonlySet<string> | null {
  if (!exclude?.length) return null
  return new Set(
    exclude.map((text, i) => {
      const { date, time } = localStamp(text, `exclude[${i}]`)
      return stamp(date, time)
    }),
  )
}
/** What a schedule adds from a time on, in order. */
function added({ include = [] }: Schedule, own: LocalTime | null, from: number): number[] {
  return include
    .map((text, i) => localStamp(text, `include[${i}]`))
    .map(({ date, time }) => localSeconds({ date, time: own === null ? null : (time ?? own) }))
    .filter((local) => local >= from)
    .sort((a, b) => a - b)
}

/** The local times that a schedule has from a date on, and what of them it leaves out. */
interface Laid {
  readonly reckoned: Reckoned
  readonly locals: Iterable<number>
  readonly skipped: ReadonlySet<string> | null
}
function layOut(schedule: Schedule, cal: Calendar, from: IsoDate | undefined): Laid {
  const start = localStamp(schedule.start, 'start')
  const { rule, zone, roll = 'none' } = schedule
  const reckoned: Reckoned = {
    dated: start.time === null,
    start: localSeconds(start),
    rule: typeof rule === 'string' ? readRule(rule) : checkedOrdinal(rule),
    zone: zoneOf(zone),
    zoneName: zone,
    roll,
    cal,
  }
  const begin = from === undefined ? -Infinity : toEpochDay(from) * DAY
  const own = ruled(reckoned, Math.max(begin, reckoned.start))
  const locals = schedule.include?.length ? merged(own, added(schedule, start.time, begin)) : own
  return { reckoned, locals, skipped: leftOut(schedule) }
}
const isLeftOut = (skipped: ReadonlySet<string>, { scheduled }: Occurrence): boolean =>
  skipped.has(scheduled) || skipped.has(scheduled.slice(0, 10))

/**
 * The occurrences of a schedule in order of their scheduled time, lazily. Each is rolled by the
 * schedule's convention over the calendar, then given its instant in the zone. `from` leaves out
 * those scheduled on earlier dates, at no cost.
 * @throws Refusal `bad-rule`, `bad-date`, `bad-time` for a schedule that cannot be read.
 */
export function* occurrences(
  schedule: Schedule,
  cal: Calendar,
  from?: IsoDate,
): Generator<Occurrence> {
  const { reckoned, locals, skipped } = layOut(schedule, cal, from)
  for (const local of locals) {
    const found = place(reckoned, local)
    if (!skipped || !isLeftOut(skipped, found)) yield found
  }
}

/** Local times as they are written, kept: many series fall at the same few. */
const stampOf = kept(100_000, (local: number): LocalStamp => {
  const day = Math.floor(local / DAY)
  return stamp(fromEpochDay(day), timeOfDay(local - day * DAY))
})
const written = (local: number, dated: boolean): LocalStamp =>
  dated ? stamp(fromEpochDay(Math.floor(local / DAY)), null) : stampOf(local)

function place({ dated, zone, roll, cal }: Reckoned, local: number): Occurrence {
  const day = Math.floor(local / DAY)
  const second = local - day * DAY
  const scheduled = written(local, dated)
  const rolled = rollDay(cal, day, roll)
  const midnight = rolled * DAY
  const at = dated ? zone.dayStart(midnight) : zone.instant(midnight + second)
  const instant = (at * 1_000) as Instant
  // A time that a clock change skips falls later; a date alone stays its day.
  const falls = dated ? midnight : zone.local(at)
  if (falls === local) return { scheduled, date: scheduled, instant, moved: null }
  const moved = movedBecause(cal, day, rolled)
  return { scheduled, date: written(falls, dated), instant, moved }
}
/** Why a day was rolled to another, as days since 1970. */
export function movedBecause(cal: Calendar, day: number, rolled: number): Occurrence['moved'] {
  if (rolled === day) return { because: 'clock-change', name: '' }
  const holiday = holidayOnDay(cal, day)
  return holiday ? { because: 'holiday', name: holiday } : { because: 'weekend', name: '' }
}

/** The first occurrences of a schedule, at most `limit`. */
export function firstOccurrences(schedule: Schedule, cal: Calendar, limit: number): Occurrence[] {
  const out: Occurrence[] = []
  if (limit > 0) for (const each of occurrences(schedule, cal)) if (out.push(each) >= limit) break
  return out
}

/** What is scheduled before the working day before a date can only be rolled as far as that one. */
const rolledOnto = (cal: Calendar, date: IsoDate): IsoDate =>
  addWorkingDays(cal, date, -1, 'following')
/**
 * Occurrences that fall on a date or later, lazily: those of earlier dates that are rolled onto it
 * are among them.
 */
export function* occurrencesFrom(
  schedule: Schedule,
  cal: Calendar,
  date: IsoDate,
): Generator<Occurrence> {
  for (const each of occurrences(schedule, cal, rolledOnto(cal, date)))
    if ((each.date as string) >= date) yield each
}

/**
 * The occurrences that fall on dates from one to another (both ends). Rolling keeps their order, so
 * that the first that falls later ends it.
 */
export function occurrencesBetween(
  schedule: Schedule,
  cal: Calendar,
  from: IsoDate,
  to: IsoDate,
): Occurrence[] {
  const { reckoned, locals, skipped } = layOut(schedule, cal, rolledOnto(cal, from))
  const after = addDays(to, 1) as string
  const out: Occurrence[] = []
  for (const local of locals) {
    const found = place(reckoned, local)
    if (found.date >= after) break
    if (found.date >= (from as string) && (!skipped || !isLeftOut(skipped, found))) out.push(found)
  }
  return out
}

/** Occurrences scheduled strictly after an identity (all, when it is null), lazily. */
export function* occurrencesAfter(
  schedule: Schedule,
  cal: Calendar,
  scheduled: LocalStamp | null,
): Generator<Occurrence> {
  const from = scheduled === null ? undefined : localStamp(scheduled).date
  for (const each of occurrences(schedule, cal, from))
    if (scheduled === null || each.scheduled > scheduled) yield each
}
