import { isDeepStrictEqual } from 'node:util'
import { isByDates } from '#core/recurrence/course.ts'
import type { LocalStamp } from '#core/brands.ts'
import { addDays, isoDate, localStamp, localTime, stamp } from '#core/calendar/dates.ts'
import { servedUpTo } from '#core/recurrence/coming.ts'
import { occurrencesFrom, type Schedule } from '#core/recurrence/schedule.ts'
import type { SeriesSchedule } from '#contract/series.ts'
import type { Coming } from '#core/recurrence/coming.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { comingOf, MOST_PASSED } from './coming.ts'
import { settleAs } from './deal.ts'
import { lastScheduled, type SeriesRecord } from './queries.ts'

/** How far a series has come with its dates, once its schedule is another, or it goes on. */

type Readers = Pick<Engine, 'reader' | 'firm'>

const LAST_SECOND = localTime('23:59:59')
/** After every scheduled time there is: a series that has reached it ends. */
const END = stamp(isoDate('9999-12-31'), null)

/** The later of two scheduled times. */
export const later = (a: LocalStamp | null, b: LocalStamp | null): LocalStamp | null =>
  a === null ? b : b === null ? a : a > b ? a : b

/** Whether a schedule says what another says, however it is written down. */
export const isSame = (a: SeriesSchedule, b: SeriesSchedule): boolean => isDeepStrictEqual(a, b)

/**
 * The scheduled time up to which all is behind (null: nothing is), since a series starts with the
 * first date from today on; undefined where every date is behind.
 */
function behind({ firm }: Pick<Engine, 'firm'>, schedule: Schedule): LocalStamp | null | undefined {
  const next = occurrencesFrom(schedule, firm.calendar(), firm.today()).next().value
  if (!next) return undefined
  const { date } = localStamp(next.scheduled)
  return date <= localStamp(schedule.start).date ? null : stamp(addDays(date, -1), LAST_SECOND)
}

/**
 * How far a series has come by a schedule that is new to it: what is behind is, and what it has made
 * already serves its time or its period, however its times were edited. Undefined: none is left.
 */
export function reachedBy(
  engine: Readers,
  schedule: SeriesSchedule,
  row: SeriesRecord | undefined,
): LocalStamp | null | undefined {
  const last = row && (lastScheduled.get(engine.reader, { id: row.id })?.scheduled ?? null)
  if (!isByDates(schedule)) return last ?? null
  const past = behind(engine, schedule)
  if (past === undefined || !row || !last) return past
  // What stands due of one that runs is still made.
  if (isSame(schedule, row.schedule)) return row.on ? row.reached : later(past, row.reached)
  return later(past, servedUpTo(schedule, engine.firm.calendar(), last, row.makes.period.of))
}

/** How far the past goes of a schedule. */
const pastOf = (engine: Pick<Engine, 'firm'>, schedule: Schedule, reached: LocalStamp | null) => {
  const until = behind(engine, schedule)
  return until === undefined ? END : later(reached, until)
}
/** What fell into a pause is skipped, and known to be: the last so many of it. */
export function passPause(engine: Readers, write: Writer, row: SeriesRecord): void {
  if (!isByDates(row.schedule)) return
  const reached = pastOf(engine, row.schedule, row.reached)
  const passed: Coming[] = []
  for (const one of comingOf(engine, row)) {
    if (one.byHand) continue
    if (reached !== null && one.scheduled > reached) break
    if (passed.push(one) > MOST_PASSED) passed.shift()
  }
  for (const one of passed)
    settleAs(engine, write, row, { one, became: { state: 'skipped', why: 'It was paused' } })
  const since = passed.length < MOST_PASSED ? row.since : (passed[0]?.scheduled ?? row.since)
  write.update('series', row.id, { reached, since })
}

/**
 * A series that an undo has given another schedule, or set going again: what is behind by now is not
 * made up for.
 */
export function passUndone(
  engine: Readers,
  write: Writer,
  row: SeriesRecord,
  { anew }: { anew: boolean },
): void {
  if (!isByDates(row.schedule)) return
  if (!anew) return passPause(engine, write, row)
  // What falls into a pause is told when that ends.
  const reached = row.on ? pastOf(engine, row.schedule, row.reached) : row.reached
  write.update('series', row.id, { reached, since: reached })
}
