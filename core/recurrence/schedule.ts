import type { Instant, IsoDate, LocalStamp, LocalTime } from '../brands.ts'
import {
  addWorkingDays,
  holidayOn,
  rollDate,
  type Calendar,
  type Roll,
} from '../calendar/calendar.ts'
import {
  addDays,
  fromEpochDay,
  localStamp,
  stamp,
  toEpochDay,
  toInstant,
  toLocal,
  weekdayOf,
} from '../calendar/dates.ts'
import { refuse } from '../refusal.ts'
import { expand } from './expand.ts'
import { parseRRule } from './rrule.ts'

export const PERIODS = ['week', 'month', 'quarter', 'year'] as const

/**
 * The n-th working day of each period, counted from its end when negative. Weeks start on Monday.
 */
export interface WorkdayOrdinal {
  readonly workday: number
  readonly of: (typeof PERIODS)[number]
}

/**
 * When a series has its occurrences. `rule` is an RFC 5545 RRULE or a working-day ordinal;
 * schedules counted from a completion or made by an event have their place in this union when they
 * come.
 */
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
export type OverlapPolicy = 'make-anyway' | 'hold' | 'close-as-missed' | 'move-forward'
/** What is made up for after downtime or a pause; chosen per series. */
export type CatchUpPolicy = 'each' | 'latest' | 'none'

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

interface Local {
  readonly date: IsoDate
  readonly time: LocalTime | null
}

/** The n-th working days of the periods from a date on. */
function* ordinals(rule: WorkdayOrdinal, from: IsoDate, cal: Calendar): Generator<IsoDate> {
  const n = rule.workday
  let first = periodStart(from, rule.of)
  for (let empty = 0; empty < 600;) {
    const next = nextPeriod(first, rule.of)
    // Counting from the day before the period (or the first after it) makes the n-th in it plain
    // addition.
    const day =
      n > 0
        ? addWorkingDays(cal, addDays(first, -1), n, 'preceding')
        : addWorkingDays(cal, next, n, 'following')
    const inside = day >= first && day < next
    if (inside) empty = 0
    else empty++
    if (inside && day >= from) yield day
    if (next >= '9990') return
    first = next
  }
}

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

function checkedOrdinal(rule: WorkdayOrdinal): WorkdayOrdinal {
  if (!PERIODS.includes(rule.of))
    refuse('bad-rule', 'rule.of: use week, month, quarter or year.', 'rule.of')
  if (!Number.isInteger(rule.workday) || rule.workday === 0 || Math.abs(rule.workday) > 262)
    refuse(
      'bad-rule',
      'rule.workday: use 1 for the first working day, -1 for the last, up to ±262.',
      'rule.workday',
    )
  return rule
}

function* ruled(
  { rule, zone }: Schedule,
  start: Local,
  { cal, from }: { cal: Calendar; from: IsoDate },
): Generator<Local> {
  if (typeof rule === 'string') yield* expand(parseRRule(rule), start, { zone, from })
  else
    for (const date of ordinals(checkedOrdinal(rule), from > start.date ? from : start.date, cal))
      yield { date, time: start.time }
}

function* merged(rule: Iterable<Local>, extra: readonly Local[]): Generator<Local> {
  let i = 0
  let last = ''
  const fresh = (l: Local) =>
    stamp(l.date, l.time) !== last && ((last = stamp(l.date, l.time)), true)
  for (const next of rule) {
    for (
      ;
      i < extra.length && stamp(extra[i]!.date, extra[i]!.time) <= stamp(next.date, next.time);
      i++
    )
      if (fresh(extra[i]!)) yield extra[i]!
    if (fresh(next)) yield next
  }
  for (; i < extra.length; i++) if (fresh(extra[i]!)) yield extra[i]!
}

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
  const start = localStamp(schedule.start, 'start')
  const begin = from ?? start.date
  const skipped = new Set(
    (schedule.exclude ?? []).map((text, i) => {
      const { date, time } = localStamp(text, `exclude[${i}]`)
      return stamp(date, time)
    }),
  )
  const extra = (schedule.include ?? [])
    .map((text, i) => localStamp(text, `include[${i}]`))
    .map(({ date, time }) => ({ date, time: start.time === null ? null : (time ?? start.time) }))
    .filter(({ date }) => from === undefined || date >= from)
    .sort((a, b) => (stamp(a.date, a.time) < stamp(b.date, b.time) ? -1 : 1))
  for (const { date, time } of merged(ruled(schedule, start, { cal, from: begin }), extra)) {
    const scheduled = stamp(date, time)
    if (skipped.has(scheduled) || skipped.has(date as string as LocalStamp)) continue
    yield place(scheduled, date, time, schedule, cal)
  }
}

function place(
  scheduled: LocalStamp,
  date: IsoDate,
  time: LocalTime | null,
  schedule: Schedule,
  cal: Calendar,
): Occurrence {
  const rolled = rollDate(cal, date, schedule.roll ?? 'none')
  const instant = toInstant(rolled, time, schedule.zone)
  const local = time === null ? { date: rolled, time } : toLocal(instant, schedule.zone)
  let moved: Occurrence['moved'] = null
  if (rolled !== date) {
    const holiday = holidayOn(cal, date)
    moved = holiday ? { because: 'holiday', name: holiday } : { because: 'weekend', name: '' }
  } else if (stamp(local.date, local.time) !== scheduled)
    moved = { because: 'clock-change', name: '' }
  return { scheduled, date: stamp(local.date, local.time), instant, moved }
}

/** The first occurrences of a schedule, at most `limit`. */
export function firstOccurrences(schedule: Schedule, cal: Calendar, limit: number): Occurrence[] {
  const out: Occurrence[] = []
  if (limit > 0) for (const each of occurrences(schedule, cal)) if (out.push(each) >= limit) break
  return out
}

/**
 * Occurrences that fall on a date or later, lazily: those of earlier dates that are rolled onto it
 * are among them.
 */
export function* occurrencesFrom(
  schedule: Schedule,
  cal: Calendar,
  date: IsoDate,
): Generator<Occurrence> {
  // What is scheduled before the working day before can only be rolled as far as that one.
  const from = addWorkingDays(cal, date, -1, 'following')
  for (const each of occurrences(schedule, cal, from)) if ((each.date as string) >= date) yield each
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
