import { isByDates } from '#core/recurrence/course.ts'
import type { IsoDate } from '#core/brands.ts'
import { addDays, stamp } from '#core/calendar/dates.ts'
import { identityOf, type Coming } from '#core/recurrence/coming.ts'
import { occurrences, type Schedule } from '#core/recurrence/schedule.ts'
import { sayDate } from '#core/text/speak.ts'
import type { Audited, SeriesAudit } from '#contract/series.ts'
import type { OccurrenceState } from '#contract/words.ts'
import { ENGINE } from '../../engine/journal.ts'
import type { Steps } from '../../engine/portions.ts'
import { alarmByKey } from '../../engine/queries.ts'
import type { Engine } from '../../engine/services.ts'
import { needMember, type Viewer } from '../../engine/viewer.ts'
import { comingOf, madeFor, readOf } from './coming.ts'
import {
  allSeries,
  auditOn,
  audits,
  byHandOf,
  countedStates,
  oldAudits,
  statesAfter,
  type SeriesRecord,
} from './queries.ts'

/**
 * A look over all series: every date of each is exactly one of made, held, missed, skipped or expected.
 * It is done once a day by itself, and what it finds is shown.
 */

/** How far back and ahead it looks, in calendar days. */
const [BACK, AHEAD] = [400, 366]
const DAY = 86_400_000
/** As many faults as are kept of one night. */
const MOST_SAID = 100

type State = OccurrenceState | 'expected'
interface Look {
  readonly row: SeriesRecord
  readonly count: (state: State, by?: number) => void
  readonly wrong: (says: string) => void
}

/** The dates of a schedule that the look is about. */
function* datesOf({ firm }: Engine, { since }: SeriesRecord, schedule: Schedule) {
  const today = firm.today()
  const after = stamp(addDays(today, AHEAD), null)
  for (const one of occurrences(schedule, firm.calendar(), addDays(today, -BACK))) {
    if (one.scheduled > after) return
    if (since === null || one.scheduled > since) yield one
  }
}

/** What is known of each date, by what it is known by. */
function knownOf({ reader }: Engine, { id, since }: SeriesRecord, schedule: Schedule) {
  const identity = identityOf(schedule)
  const states = new Map<string, State[]>()
  for (const { scheduled, state } of statesAfter.all(reader, { id, after: since ?? '' })) {
    const key = identity(scheduled)
    states.set(key, [...(states.get(key) ?? []), state])
  }
  const byHand = new Map(byHandOf.all(reader, { id }).map((one) => [identity(one.scheduled), one]))
  return { identity, states, byHand }
}

/** Looks at a series whose dates are those of a calendar. */
function byDates(engine: Engine, schedule: Schedule, { row, count, wrong }: Look): void {
  const { identity, states, byHand } = knownOf(engine, row, schedule)
  for (const { scheduled } of datesOf(engine, row, schedule)) {
    const key = identity(scheduled)
    const [state, ...more] = states.get(key) ?? []
    const decided = byHand.get(key)
    if (more.length) wrong(`${sayDate(scheduled)} was dealt with more than once.`)
    if (state) count(state)
    else if (decided?.date === null) count('skipped')
    else if (decided || row.reached === null || scheduled > row.reached) count('expected')
    else wrong(`${sayDate(scheduled)} was passed over, and nothing is known of it.`)
  }
}

/** What is overdue by a day was not made when it was to be. */
const isOverdue = (engine: Engine, row: SeriesRecord, next: Coming): boolean =>
  madeFor(engine, row, next).at < engine.clock.now() - DAY

/** Whether what comes next will come: an alarm stands, and not for a time long past. */
function byAlarm(engine: Engine, { row, wrong }: Look): void {
  if (!row.on || row.endedAt !== null || engine.firm.stoppedAt() !== null) return
  for (const next of comingOf(engine, row, readOf(engine, row))) {
    const stands = alarmByKey.get(engine.reader, { key: `series:${row.id}` })
    if (!stands) wrong(`Nothing wakes it for ${sayDate(next.date)}.`)
    else if (isOverdue(engine, row, next))
      wrong(`${sayDate(next.date)} was to be made already, and was not.`)
    return
  }
}

function look(engine: Engine, of: Look): void {
  const { schedule, id } = of.row
  if (!isByDates(schedule))
    for (const { state, count } of countedStates.all(engine.reader, { id })) of.count(state, count)
  else byDates(engine, schedule, of)
  byAlarm(engine, of)
}

/** Looks over all series, one a step. */
export function* audit(engine: Engine): Steps<Audited> {
  const dates: Record<State, number> = { made: 0, held: 0, missed: 0, skipped: 0, expected: 0 }
  const wrong: Audited['wrong'][number][] = []
  const rows = allSeries.all(engine.reader)
  for (const { series: row } of rows) {
    yield
    look(engine, {
      row,
      count: (state, by = 1) => (dates[state] += by),
      wrong(says) {
        if (wrong.length < MOST_SAID) wrong.push({ series: row.id, name: row.name, says })
      },
    })
  }
  return { series: rows.length, dates, wrong }
}

/** The look of the night, once a day; of earlier ones, so many are kept. */
export function* nightlyAudit(engine: Engine): Steps<void> {
  const { reader, journal, firm } = engine
  const day: IsoDate = firm.today()
  if (auditOn.get(reader, { day })) return
  const found = yield* audit(engine)
  for (const { series, name, says } of found.wrong) engine.log.error({ series, name }, says)
  journal.change(ENGINE, (write) => {
    if (auditOn.get(reader, { day })) return
    write.insert('seriesAudits', { day, at: write.at, found })
    for (const { id } of oldAudits.all(reader)) write.remove('seriesAudits', id)
  })
}

/** What the looks of the last nights found, the newest first. */
export function seriesAudits({ reader }: Engine, viewer: Viewer): SeriesAudit[] {
  needMember(viewer, 'see what was found of series')
  return audits.all(reader).map(({ at, found }) => ({ at, ...found }))
}
