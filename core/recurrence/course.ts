import type { Instant, IsoDate, LocalStamp, LocalTime } from '../brands.ts'
import { addWorkingDays, rollDate, workingDayAfter, type Calendar } from '../calendar/calendar.ts'
import {
  addDays,
  dayOf,
  fromEpochDay,
  localStamp,
  localTime,
  stamp,
  toEpochDay,
  toInstant,
} from '../calendar/dates.ts'
import { refuse } from '../refusal.ts'
import {
  movedBecause,
  occurrencesAfter,
  type CatchUpPolicy,
  type Occurrence,
  type OverlapPolicy,
  type Schedule,
} from './schedule.ts'

/**
 * What becomes of the occurrences of a series up to a moment: which are made, held until the one before
 * is closed, passed by, or missed. Pure: whoever makes them asks this first.
 */

/** The time of day at which what is made ahead of its date is made. */
const MAKE_TIME: LocalTime = localTime('06:00')

/** How far ahead of its date an occurrence is made: so many working days, at a time of day. */
export interface Lead {
  readonly days: number
  /** At six, where it is not said. */
  readonly time?: LocalTime
}
/** When an occurrence is made; never after the date itself. */
export function makeAt(
  { cal, zone }: { cal: Calendar; zone: string },
  { days: leadDays, time: makeTime = MAKE_TIME }: Lead,
  occurrence: Pick<Occurrence, 'date' | 'instant'>,
): { day: IsoDate; at: Instant } {
  const { date, time } = localStamp(occurrence.date)
  const day = leadDays === 0 ? date : addWorkingDays(cal, date, -leadDays, 'following')
  const at = toInstant(day, makeTime, zone)
  const early = leadDays === 0 && time !== null && occurrence.instant < at
  return { day, at: early ? occurrence.instant : at }
}

/** So long after the last one was completed, in days, working days, weeks or months. */
export interface AfterCompletion {
  readonly after: number
  readonly unit: 'calendar' | 'working' | 'week' | 'month'
}
/** How the occurrences of a series come about. */
export type Recurrence =
  | { readonly kind: 'dates'; readonly schedule: Schedule }
  | {
      readonly kind: 'after-completion'
      readonly start: LocalStamp
      readonly zone: string
      readonly wait: AfterCompletion
      readonly roll: NonNullable<Schedule['roll']>
      /** How many there are in all, or the last date there may be one on. */
      readonly count?: number
      readonly until?: IsoDate
    }
  | { readonly kind: 'after-event'; readonly zone: string; readonly events: readonly LocalStamp[] }

/** An occurrence that was made, and when its work was closed; null while it is open. */
export interface Past {
  readonly scheduled: LocalStamp
  readonly closedAt: Instant | null
  /** The day it was closed on; what comes after a completion is counted from it. */
  readonly closedOn: IsoDate | null
}
/** From one moment up to another. */
export interface Stretch {
  readonly from: Instant
  readonly to: Instant
}
export interface Ways {
  readonly overlap: OverlapPolicy
  readonly catchUp: CatchUpPolicy
  /** Working days that each is made ahead. */
  readonly leadDays: number
  /** While it was paused: what was to be made then is passed by. */
  readonly paused: readonly Stretch[]
  /** While nothing ran: what was to be made then is made up for as `catchUp` says. */
  readonly down: readonly Stretch[]
}
export interface Made {
  readonly scheduled: LocalStamp
  readonly date: LocalStamp
  readonly at: Instant
  /** The one before, which was moved onto this date; nothing new is made. */
  readonly moved?: LocalStamp
}
export interface Settled {
  readonly made: readonly Made[]
  readonly held: readonly LocalStamp[]
  /** Left out after a time when nothing ran, or closed because the next one came. */
  readonly missed: readonly LocalStamp[]
  readonly skipped: readonly LocalStamp[]
  /** The one that comes next, as far as it can be known. */
  readonly next: Made | null
}

/** Adds whole months; where the month is too short, its last day (`constrain` in Temporal). */
function addMonths(date: IsoDate, months: number): IsoDate {
  const [year, month, day] = [+date.slice(0, 4), +date.slice(5, 7) - 1 + months, +date.slice(8, 10)]
  const firstOf = (m: number) => dayOf(year + Math.floor(m / 12), (((m % 12) + 12) % 12) + 1, 1)
  return fromEpochDay(Math.min(firstOf(month) + day, firstOf(month + 1)) - 1)
}
function waited(cal: Calendar, from: IsoDate, { after, unit }: AfterCompletion): IsoDate {
  if (unit === 'month') return addMonths(from, after)
  if (unit === 'working') return after === 0 ? from : workingDayAfter(cal, from, after)
  return addDays(from, unit === 'week' ? 7 * after : after)
}

type Due = Pick<Occurrence, 'scheduled' | 'date' | 'instant'>
/** At most so many are settled at once. */
const MOST = 10_000

/** What is counted from completions. */
export type AfterSchedule = Extract<Recurrence, { kind: 'after-completion' }>
/** What is counted from events that rules tell of; from the day of its start on. */
export type EventSchedule = Omit<AfterSchedule, 'kind'> & { readonly kind: 'after-event' }
/** Whether the dates of a schedule follow completions. */
export const isAfter = <S extends object>(
  schedule: S,
): schedule is Extract<S, { kind: 'after-completion' }> =>
  'kind' in schedule && schedule.kind === 'after-completion'
/** Whether they follow events. */
export const isByEvents = <S extends object>(
  schedule: S,
): schedule is Extract<S, { kind: 'after-event' }> =>
  'kind' in schedule && schedule.kind === 'after-event'
/** Whether they stand in the calendar, whatever happens. */
export const isByDates = <S extends object>(
  schedule: S,
): schedule is Exclude<S, { kind: 'after-completion' | 'after-event' }> => !('kind' in schedule)
/**
 * The one after a completion: the first on the start, each further one counted from the day that the
 * last was closed on; null while that is open, or once its end is reached.
 */
export function afterCompletion(
  { start, zone, wait, roll, count, until }: AfterSchedule,
  last: Pick<Past, 'closedOn'> | undefined,
  { cal, made }: { cal: Calendar; made: number },
): Occurrence | null {
  const first = localStamp(start, 'start')
  if (last?.closedOn === null || (count !== undefined && made >= count)) return null
  const date = last ? waited(cal, last.closedOn, wait) : first.date
  if (until !== undefined && date > until) return null
  return { scheduled: stamp(date, first.time), ...landed({ start, zone, roll }, cal, date) }
}
/** Where a date lands once it is rolled, at the time of day that its schedule has. */
function landed(
  { start, zone, roll }: Pick<AfterSchedule, 'start' | 'zone' | 'roll'>,
  cal: Calendar,
  date: IsoDate,
): Omit<Occurrence, 'scheduled'> {
  const { time } = localStamp(start, 'start')
  const rolled = rollDate(cal, date, roll)
  return {
    date: stamp(rolled, time),
    instant: toInstant(rolled, time, zone),
    moved: rolled === date ? null : movedBecause(cal, toEpochDay(date), toEpochDay(rolled)),
  }
}
/** Where the one falls that an event brings on a day; null before the start, or beyond the end. */
export function afterEvent(
  { start, wait, count, until, ...schedule }: EventSchedule,
  day: IsoDate,
  { cal, made }: { cal: Calendar; made: number },
): Omit<Occurrence, 'scheduled'> | null {
  if (day < localStamp(start, 'start').date || (count !== undefined && made >= count)) return null
  const date = waited(cal, day, wait)
  return until !== undefined && date > until ? null : landed({ start, ...schedule }, cal, date)
}
/** What comes after those that were made, in order, lazily. */
function comingOf(of: Recurrence, history: readonly Past[], cal: Calendar): Iterable<Due> {
  if (of.kind === 'after-completion') {
    const next = afterCompletion(of, history.at(-1), { cal, made: history.length })
    return next ? [next] : []
  }
  if (of.kind === 'dates')
    return occurrencesAfter(of.schedule, cal, history.at(-1)?.scheduled ?? null)
  const made = new Set(history.map(({ scheduled }) => scheduled))
  return [...of.events].sort().flatMap((event): Due[] => {
    const { date, time } = localStamp(event, 'events')
    const scheduled = stamp(date, time)
    return made.has(scheduled)
      ? []
      : [{ scheduled, date: scheduled, instant: toInstant(date, time, of.zone) }]
  })
}
const within = (stretches: readonly Stretch[], at: number): Stretch | undefined =>
  stretches.find(({ from, to }) => at >= from && at < to)

/** What a series is looked at with: what was made of it, in order, and when it is. */
interface Looked {
  readonly history: readonly Past[]
  readonly now: Instant
  readonly cal: Calendar
  readonly ways: Ways
}

/** What is being settled. */
interface Course {
  readonly made: Made[]
  readonly held: LocalStamp[]
  readonly missed: LocalStamp[]
  readonly skipped: LocalStamp[]
  /** The one that the next must wait for, or take the place of; null where it is closed. */
  before: { readonly scheduled: LocalStamp; readonly closedAt: Instant | null } | null
}

/** What is done about one that is due: made, held, made once the one before was closed, or that moved. */
export type Deed = 'make' | 'hold' | 'close-before' | 'move-before'
const WHILE_OPEN: Readonly<Record<OverlapPolicy, Deed>> = {
  'make-anyway': 'make',
  hold: 'hold',
  'close-as-missed': 'close-before',
  'move-forward': 'move-before',
}
/** What is done about one that is due, by whether the one before is still open. */
export const deedFor = (policy: OverlapPolicy, beforeIsOpen: boolean): Deed =>
  beforeIsOpen ? WHILE_OPEN[policy] : 'make'

/** Settles one that is due. */
function settleOne(course: Course, due: Made, overlap: OverlapPolicy, now: number): void {
  const { before } = course
  const deed = deedFor(
    overlap,
    before !== null && (before.closedAt === null || before.closedAt > due.at),
  )
  course.before = { scheduled: due.scheduled, closedAt: null }
  if (deed === 'make' || before === null) course.made.push(due)
  else if (deed === 'hold') {
    const at = before.closedAt
    if (at !== null && at <= now) course.made.push({ ...due, at })
    else course.held.push(due.scheduled)
  } else if (deed === 'close-before') {
    course.missed.push(before.scheduled)
    course.made.push(due)
  } else course.made.push({ ...due, moved: before.scheduled })
}

/** Of so many that were to be made while nothing ran, the first that is made up for. */
export const firstMadeUp = (policy: CatchUpPolicy, many: number): number =>
  policy === 'each' ? 0 : policy === 'latest' ? many - 1 : many

/** Parts what was to be made while nothing ran into what is made up for, at its end, and missed. */
function madeUpFor(list: readonly Made[], { catchUp, down }: Ways, course: Course): Made[] {
  const out: Made[] = []
  for (let i = 0; i < list.length;) {
    const stretch = within(down, list[i]!.at)
    let end = i + 1
    if (stretch) while (end < list.length && within(down, list[end]!.at) === stretch) end++
    const first = stretch ? i + firstMadeUp(catchUp, end - i) : i
    for (; i < first; i++) course.missed.push(list[i]!.scheduled)
    for (; i < end; i++) out.push(stretch ? { ...list[i]!, at: stretch.to } : list[i]!)
  }
  return out
}

/**
 * When one is to be made: what an event brings, with it; what follows a completion in a pause, as it
 * ends, since nothing would come after it otherwise.
 */
function madeAt(
  { kind }: Recurrence,
  due: Due,
  { cal, zone, ways }: { cal: Calendar; zone: string; ways: Ways },
): Instant {
  if (kind === 'after-event') return due.instant
  const { at } = makeAt({ cal, zone }, { days: ways.leadDays }, due)
  return kind === 'after-completion' ? (within(ways.paused, at)?.to ?? at) : at
}

/**
 * What becomes of all that is due up to a moment, after those that were made already.
 * @throws Refusal `bad-rule`, `bad-date`; `too-many` where more are due than can be made at once
 */
export function settle(recurrence: Recurrence, { history, now, cal, ways }: Looked): Settled {
  const zone = recurrence.kind === 'dates' ? recurrence.schedule.zone : recurrence.zone
  const last = history.at(-1)
  const course: Course = { made: [], held: [], missed: [], skipped: [], before: last ?? null }
  const due: Made[] = []
  let next: Made | null = null
  for (const each of comingOf(recurrence, history, cal)) {
    const { scheduled, date } = each
    const at = madeAt(recurrence, each, { cal, zone, ways })
    // While nothing runs, it is not decided what is made up for.
    const until = within(ways.down, at)?.to ?? at
    if (at > now || until > now) {
      next = { scheduled, date, at: Math.max(at, until) as Instant }
      break
    }
    if (due.length >= MOST) refuse('too-many', `More than ${MOST} are due; begin later.`, 'start')
    if (within(ways.paused, at)) course.skipped.push(scheduled)
    else due.push({ scheduled, date, at })
  }
  for (const each of madeUpFor(due, ways, course)) settleOne(course, each, ways.overlap, now)
  const { made, held, missed, skipped } = course
  return { made, held, missed: missed.sort(), skipped, next }
}
