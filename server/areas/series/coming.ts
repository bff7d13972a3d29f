import type { IsoDate, LocalStamp, SeriesId } from '#core/brands.ts'
import { workingDayBefore } from '#core/calendar/calendar.ts'
import {
  addDays,
  localStamp,
  localTime,
  toInstant,
  toLocal,
  workDay,
} from '#core/calendar/dates.ts'
import { refuse } from '#core/refusal.ts'
import { coming, type ByHand, type Coming, type Standing } from '#core/recurrence/coming.ts'
import {
  isAfter,
  isByEvents,
  afterCompletion,
  makeAt,
  type AfterSchedule,
  type Lead,
} from '#core/recurrence/course.ts'
import type { Engine } from '../../engine/services.ts'
import {
  byHandOf,
  dealtCount,
  everyByHand,
  everyDealtCount,
  everyLastDealt,
  everySettled,
  lastDealt,
  settledOf,
  type Known,
  type SeriesRecord,
} from './queries.ts'

/** Which dates of a series are still to come, and when each is made. */

type Readers = Pick<Engine, 'reader' | 'firm'>

/** What is read of a series to know what it has to come; many series are read at one stroke. */
export interface Read {
  readonly byHand: readonly ByHand[]
  readonly settled: ReadonlySet<LocalStamp>
  /** The one it dealt with last: asked where dates follow completions. */
  readonly last: () => Known | undefined
  /** How many it dealt with: asked where it ends after so many. */
  readonly many: () => number
}
export type Dated = Pick<SeriesRecord, 'id' | 'schedule' | 'ways' | 'reached'>

export const readOf = (
  { reader }: Readers,
  { id, reached }: Pick<Dated, 'id' | 'reached'>,
): Read => ({
  byHand: byHandOf.all(reader, { id }),
  settled: new Set(
    settledOf.all(reader, { id, after: reached ?? '' }).map(({ scheduled }) => scheduled),
  ),
  last: () => lastDealt.get(reader, { id }),
  many: () => dealtCount.get(reader, { id })?.count ?? 0,
})

/** The same of all series, read at one stroke. */
export function readAll({ reader }: Readers): (row: Pick<Dated, 'id'>) => Read {
  const byHand = grouped(everyByHand.all(reader))
  const settled = grouped(everySettled.all(reader))
  const last = new Map(
    everyLastDealt.all(reader).map((one) => [Number(one.occurrence.seriesId), one]),
  )
  const many = new Map(everyDealtCount.all(reader).map((one) => [Number(one.seriesId), one.count]))
  return ({ id }) => ({
    byHand: byHand.get(id) ?? [],
    settled: new Set(settled.get(id)?.map(({ scheduled }) => scheduled)),
    last: () => last.get(id),
    many: () => many.get(id) ?? 0,
  })
}
export function grouped<T extends { readonly seriesId: SeriesId }>(rows: readonly T[]) {
  const found = new Map<number, T[]>()
  for (const row of rows) {
    const own = found.get(row.seriesId)
    if (own) own.push(row)
    else found.set(row.seriesId, [row])
  }
  return found
}

/** Whether what was made for a date is closed: done, dropped, put away, or gone. */
export const isOver = ({ task, project }: Pick<Known, 'task' | 'project'>): boolean => {
  const work = task ?? project
  return work === null || work.closedAt !== null || work.archivedAt !== null
}
/** The day on which it was; of what is gone or was left out, the day it was meant for. */
function overOn({ firm }: Readers, { occurrence, task, project }: Known): IsoDate | null {
  const work = task ?? project
  if (!work) return localStamp(occurrence.date).date
  const at = work.closedAt ?? work.archivedAt
  return at === null ? null : toLocal(at, firm.zone()).date
}

/** What follows the completion of the last one. */
function* following(
  engine: Readers,
  schedule: AfterSchedule,
  { byHand, last, many }: Read,
): Generator<Coming> {
  const before = last()
  let after = before && { closedOn: overOn(engine, before) }
  for (let made = schedule.count === undefined ? 0 : many(); ; made++) {
    const next = afterCompletion(schedule, after, { cal: engine.firm.calendar(), made })
    if (!next) return
    const decided = byHand.find(({ scheduled }) => scheduled === next.scheduled)
    if (decided?.date !== null) {
      const { date, time } = localStamp(decided?.date ?? next.date)
      const instant = toInstant(date, time, schedule.zone)
      yield {
        ...{ ...next, date: decided?.date ?? next.date, instant, joins: [] },
        ...{ byHand: decided !== undefined, moved: decided ? null : next.moved },
      }
      return
    }
    after = { closedOn: localStamp(next.date).date }
  }
}

/**
 * The dates of a series that are still to come, in the order of where they fall, lazily; `from` leaves
 * out those of earlier days.
 */
export function comingOf(
  engine: Readers,
  row: Dated,
  read: Read = readOf(engine, row),
  from?: IsoDate,
): Iterable<Coming> {
  const { schedule, ways, reached } = row
  if (isAfter(schedule)) return following(engine, schedule, read)
  // What events will bring is not known.
  if (isByEvents(schedule)) return []
  const standing: Standing = {
    ...{ reached, settled: read.settled, byHand: read.byHand },
    each: ways.each ?? false,
  }
  return coming(schedule, engine.firm.calendar(), standing, from)
}

export const firstOf = <T>(all: Iterable<T>): T | null => {
  for (const one of all) return one
  return null
}

/** How far ahead of its dates a series makes what it makes. */
const leadOf = ({ leadDays, ways }: Pick<SeriesRecord, 'leadDays' | 'ways'>): Lead => ({
  days: leadDays,
  ...(ways.makeTime !== undefined && { time: localTime(ways.makeTime) }),
})
/** When a date of the firm's is made: so many working days ahead. */
export const madeFor = (
  { firm }: Pick<Engine, 'firm'>,
  row: Pick<SeriesRecord, 'leadDays' | 'ways'>,
  one: Pick<Coming, 'date' | 'instant'>,
): ReturnType<typeof makeAt> =>
  makeAt({ cal: firm.calendar(), zone: firm.zone() }, leadOf(row), one)

/**
 * A date of a series that is still to come, by its scheduled time: looked for about that time alone,
 * however far away it is.
 */
export function comingAt(engine: Readers, row: Dated, scheduled: LocalStamp): Coming | null {
  const read = readOf(engine, row)
  const moved = read.byHand.find((one) => one.scheduled === scheduled)?.date ?? scheduled
  // Rolled back, it lies no further back than the working day before.
  const from = workingDayBefore(engine.firm.calendar(), localStamp(moved).date, 1)
  for (const one of comingOf(engine, row, read, from)) {
    if (one.scheduled === scheduled || one.joins.includes(scheduled)) return one
    if (!one.byHand && one.scheduled > scheduled && one.date > moved) return null
  }
  return null
}

/** As many dates as are passed by, or looked through, at once. */
export const MOST_PASSED = 1_000
/** What of a series is to be made by a moment, in order; at most so much. */
export function dueBy(
  engine: Readers,
  row: Dated & Pick<SeriesRecord, 'leadDays'>,
  now: number,
  most = Infinity,
): Coming[] {
  const due: Coming[] = []
  for (const one of comingOf(engine, row)) {
    if (due.length >= most || madeFor(engine, row, one).at > now) break
    due.push(one)
  }
  return due
}

/** The days that something is asked about. @throws Refusal `bad-date`, `ends-before-start`, `too-long` */
export function askedDays(
  { from: first, to: last }: { readonly from: string; readonly to: string },
  most: number,
): { readonly from: IsoDate; readonly to: IsoDate } {
  const [from, to] = [workDay(first, 'from'), workDay(last, 'to')]
  if (to < from) refuse('ends-before-start', 'These days would end before they begin.', 'to')
  if (addDays(from, most) < to) refuse('too-long', `Ask for ${most} days at the most.`, 'to')
  return { from, to }
}
