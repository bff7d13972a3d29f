import type { IsoDate, LocalStamp, SeriesId } from '#core/brands.ts'
import { localStamp, localTime, toInstant, toLocal } from '#core/calendar/dates.ts'
import { coming, type ByHand, type Coming, type Standing } from '#core/recurrence/coming.ts'
import {
  isAfter,
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
  /** The one it dealt with last, and how many there were: asked where dates follow completions. */
  readonly last: () => Pick<Known, 'occurrence' | 'task' | 'project'> | undefined
  readonly many: () => number
}
export type Dated = Pick<SeriesRecord, 'id' | 'schedule' | 'ways' | 'reached'>

export function readOf({ reader }: Readers, { id, reached }: Pick<Dated, 'id' | 'reached'>): Read {
  return {
    byHand: byHandOf.all(reader, { id }),
    settled: new Set(
      settledOf.all(reader, { id, after: reached ?? '' }).map(({ scheduled }) => scheduled),
    ),
    last: () => lastDealt.get(reader, { id }),
    many: () => dealtCount.get(reader, { id })?.count ?? 0,
  }
}

/** The same of all series, read at one stroke. */
export function readAll({ reader }: Readers): (row: Pick<Dated, 'id' | 'reached'>) => Read {
  const byHand = grouped(everyByHand.all(reader))
  const settled = grouped(everySettled.all(reader))
  return ({ id }) => ({
    byHand: byHand.get(id) ?? [],
    settled: new Set(settled.get(id)?.map(({ scheduled }) => scheduled)),
    last: () => lastDealt.get(reader, { id }),
    many: () => dealtCount.get(reader, { id })?.count ?? 0,
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
  for (let made = many(); ; made++) {
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
export const leadOf = ({ leadDays, ways }: Pick<SeriesRecord, 'leadDays' | 'ways'>): Lead => ({
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

/** A date of a series that is still to come, by its scheduled time. */
export function comingAt(engine: Readers, row: Dated, scheduled: LocalStamp): Coming | null {
  // What was moved may stand anywhere; of the others, none lies further than its own time.
  for (const one of comingOf(engine, row)) {
    if (one.scheduled === scheduled || one.joins.includes(scheduled)) return one
    if (!one.byHand && one.scheduled > scheduled && one.date > scheduled) return null
  }
  return null
}
