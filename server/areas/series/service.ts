import { isDeepStrictEqual } from 'node:util'
import { isByDates } from '#core/recurrence/course.ts'
import type { IsoDate, LocalStamp, PersonId, SeriesId } from '#core/brands.ts'
import { addDays, isoDate, localStamp, localTime, stamp } from '#core/calendar/dates.ts'
import { hasDate } from '#core/recurrence/coming.ts'
import { begunAt, endedBefore, endLeft, endOf } from '#core/recurrence/ends.ts'
import { occurrences, type Schedule } from '#core/recurrence/schedule.ts'
import { refuse } from '#core/refusal.ts'
import { sayDate } from '#core/text/speak.ts'
import type { BringBody, SeriesBody, SeriesSchedule, SeriesSheet } from '#contract/series.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import type { Large } from '../../engine/portions.ts'
import type { Engine } from '../../engine/services.ts'
import { needNewest } from '../../engine/versions.ts'
import { actorOf, needStructure, type Viewer } from '../../engine/viewer.ts'
import { clientById } from '../people/queries.ts'
import { checkContacts, checkMakes, checkedSchedule } from './check.ts'
import { dueBy, MOST_PASSED, type Dated } from './coming.ts'
import { reach, settleAs } from './deal.ts'
import {
  byHandOf,
  isThere,
  lastScheduled,
  occurrencesFromOn,
  seriesById,
  type SeriesRecord,
} from './queries.ts'
import { isSame, later, passPause, reachedBy } from './reached.ts'
import { planSeries } from './run.ts'
import { seriesSheet } from './sheet.ts'

/** Series made, saved, split, paused and put away. */

const noneLeft = (): never =>
  refuse(
    'no-date-left',
    'This schedule has no date left: it ended before today. Choose a later end, or another rule.',
    'schedule',
  )

/** The scheduled time up to which nothing is left that would be made at once. */
function passedNow(engine: Engine, row: Dated & Pick<SeriesRecord, 'leadDays'>): LocalStamp | null {
  const due = dueBy(engine, row, engine.clock.now(), MOST_PASSED)
  const last = due.findLast((one) => !one.byHand)
  return last ? (last.joins.at(-1) ?? last.scheduled) : row.reached
}

/** Passes by what a series would make at once, and knows that it did: it goes on with the date after. */
export function passDue(engine: Engine, write: Writer, row: SeriesRecord): void {
  const due = dueBy(engine, row, write.at, MOST_PASSED)
  let now = row
  for (const [i, one] of due.entries()) {
    settleAs(engine, write, now, { one, became: { state: 'skipped', why: 'All was stopped' } })
    now = reach(write, now, { one, next: due[i + 1] ?? null })
  }
  planSeries(engine, write, row.id)
}

/** What follows completions or events begins today at the earliest: nothing is late at birth. */
const startedBy = ({ firm }: Engine, schedule: SeriesSchedule): SeriesSchedule =>
  !isByDates(schedule) && localStamp(schedule.start).date < firm.today()
    ? { ...schedule, start: begins(schedule.start, firm.today()) }
    : schedule
const begins = (start: LocalStamp, day: string): LocalStamp =>
  stamp(isoDate(day), localStamp(start).time)

/** What saving a series writes of it. */
function columnsOf(engine: Engine, viewer: Viewer | null, body: SeriesBody, row?: SeriesRecord) {
  const asked = checkedSchedule(engine, body.schedule)
  const isNew = !row || !lastScheduled.get(engine.reader, { id: row.id })?.scheduled
  const schedule = isNew ? startedBy(engine, asked) : asked
  checkMakes(engine, viewer, body.makes)
  const standing = reachedBy(engine, schedule, row)
  const reached = standing === undefined ? noneLeft() : standing
  const ways = body.ways ?? {}
  const { leadDays } = body
  const next = { id: row?.id ?? 0, schedule, ways, leadDays, reached }
  return {
    ...{ name: body.name, makes: body.makes, schedule, leadDays, ways },
    clientId: body.makes.clientId,
    reached: body.begin === 'next' ? passedNow(engine, next) : reached,
  }
}

/** Inserts a series inside a change; answers its id. */
export function insertSeries(
  engine: Engine,
  write: Writer,
  body: SeriesBody,
  ownerId: PersonId | null,
  viewer: Viewer | null = null,
): SeriesId {
  const columns = columnsOf(engine, viewer, body)
  const id = write.insert('series', {
    ...columns,
    since: columns.reached,
    ownerId,
    createdAt: write.at,
  })
  planSeries(engine, write, id)
  return id
}

export function makeSeries(engine: Engine, viewer: Viewer, body: SeriesBody): Changed<SeriesSheet> {
  needStructure(viewer, 'make series')
  const all = forEach(engine, body)
  for (const one of all) checkContacts(engine, viewer, one)
  const { result: ids, change } = engine.journal.change(actorOf(viewer), (write) =>
    all.map((one) => insertSeries(engine, write, one, viewer.id, viewer)),
  )
  return { result: seriesSheet(engine, viewer, ids[0]!), change }
}

/** What is asked for once and made for several clients: one for each, called after them. */
function forEach({ reader }: Engine, body: SeriesBody): SeriesBody[] {
  const clients = (body.clients ?? []).filter((id) => id !== body.makes.clientId)
  if (clients.length === 0) return [body]
  const all = [...(body.makes.clientId === null ? [] : [body.makes.clientId]), ...clients]
  return all.map((clientId) => {
    const client =
      clientById.get(reader, { id: clientId }) ??
      refuse('no-such-client', `There is no client ${clientId}.`, 'clients')
    const name = body.name.includes(client.short) ? body.name : `${body.name}, ${client.short}`
    return { ...body, name: name.slice(0, 120), makes: { ...body.makes, clientId } }
  })
}

/**
 * Brings in several series with what was decided about their dates; one change, one undo.
 * @throws Refusal that names the place
 */
export function bringSeries(
  engine: Engine,
  viewer: Viewer,
  { series }: BringBody,
): Large<{ made: number }> {
  needStructure(viewer, 'bring in series')
  for (const one of series) checkContacts(engine, viewer, one)
  return engine.journal.large({
    actor: actorOf(viewer),
    size: series.length,
    *work(write) {
      for (const { byHand = [], ...body } of series) {
        const seriesId = insertSeries(engine, write, body, viewer.id, viewer)
        for (const [scheduled, date] of new Map(byHand.map(decided)))
          write.insert('seriesDates', { seriesId, scheduled, date })
        planSeries(engine, write, seriesId)
        yield
      }
      return { made: series.length }
    },
  })
}
const stampOf = (text: string): LocalStamp => {
  const { date, time } = localStamp(text, 'byHand')
  return stamp(date, time)
}
const decided = ({ scheduled, date }: { scheduled: string; date: string | null }) =>
  [stampOf(scheduled), date === null ? null : stampOf(date)] as const

/** @throws Refusal `not-found` */
export const needSeries = (engine: Engine, id: SeriesId): SeriesRecord =>
  seriesById.get(engine.reader, { id })?.series ?? refuse('not-found', `There is no series ${id}.`)

/** Saves a series; what it has made stays, later dates follow the new schedule. */
export function saveSeries(
  engine: Engine,
  viewer: Viewer,
  id: SeriesId,
  { body, seen }: { body: SeriesBody; seen: number | null },
): Changed<SeriesSheet> {
  needStructure(viewer, 'change series')
  checkContacts(engine, viewer, body)
  needNewest(seen, needSeries(engine, id).version)
  const { result: saved, change } = engine.journal.change(actorOf(viewer), (write) => {
    const from = body.from === undefined ? null : splitAt(engine, needSeries(engine, id), body.from)
    if (from !== null) return splitSeries(engine, write, viewer, { id, body, from })
    if (!needSeries(engine, id).on) passPause(engine, write, needSeries(engine, id))
    const row = needSeries(engine, id)
    const columns = columnsOf(engine, viewer, body, row)
    const same = isSame(columns.schedule, row.schedule)
    write.update('series', row, {
      ...columns,
      since: same && body.begin !== 'next' ? row.since : columns.reached,
      endedAt: null,
      version: row.version + 1,
    })
    planSeries(engine, write, id)
    return id
  })
  return { result: seriesSheet(engine, viewer, saved), change }
}

/**
 * The date that a series is split at; null where nothing comes before it, so that all of it is saved.
 * @throws Refusal `no-such-date`, `not-by-dates`
 */
function splitAt(engine: Engine, row: SeriesRecord, text: string): LocalStamp | null {
  const { date, time } = localStamp(text, 'from')
  const from = stamp(date, time)
  if (!isByDates(row.schedule))
    refuse(
      'not-by-dates',
      'What follows completions or events has no later dates to change by themselves.',
      'from',
    )
  if (!hasDate(row.schedule, engine.firm.calendar(), from))
    refuse('no-such-date', `“${row.name}” has no date on ${sayDate(from)}.`, 'from')
  const first = occurrences(row.schedule, engine.firm.calendar()).next().value
  return first && first.scheduled < from ? from : null
}

/**
 * This date and all later ones become a series of their own, which takes over what was made for them
 * or decided about them; the one before ends.
 */
function splitSeries(
  engine: Engine,
  write: Writer,
  viewer: Viewer,
  { id, body, from }: { id: SeriesId; body: SeriesBody; from: LocalStamp },
): SeriesId {
  const row = needSeries(engine, id)
  if (!isByDates(row.schedule)) return id
  const { date } = localStamp(from)
  const asked = checkedSchedule(engine, body.schedule)
  checkMakes(engine, viewer, body.makes)
  const schedule = splitOff(engine, row.schedule, { asked, from })
  const reached = row.reached !== null && row.reached >= from ? row.reached : null
  const next = write.insert('series', {
    ...{ name: body.name, makes: body.makes, schedule, leadDays: body.leadDays },
    ...{ ways: body.ways ?? {}, clientId: body.makes.clientId, ownerId: row.ownerId, on: row.on },
    createdAt: write.at,
  })
  handOver(engine, write, { id, next, from: date })
  const own = needSeries(engine, next)
  const far = reachedBy(engine, schedule, { ...own, schedule: row.schedule }) ?? null
  const since = later(reached, later(far, stamp(addDays(date, -1), localTime('23:59:59'))))
  write.update('series', next, { reached: since, since })
  write.update('series', id, {
    ...{ schedule: endedBefore(row.schedule, date), version: row.version + 1 },
  })
  planSeries(engine, write, id)
  planSeries(engine, write, next)
  return next
}
/** The schedule of what is split off: an end of so many times that was not touched counts what is left. */
function splitOff(
  { firm }: Engine,
  before: Schedule,
  { asked, from }: { asked: SeriesSchedule; from: LocalStamp },
): SeriesSchedule {
  const { date } = localStamp(from)
  const { date: start, time } = localStamp(asked.start)
  const begins = start < date ? stamp(date, time) : asked.start
  if (!isByDates(asked)) return { ...asked, start: begins }
  const end = endOf(asked.rule)
  const left = isDeepStrictEqual(end, endOf(before.rule))
    ? endLeft(before, firm.calendar(), from)
    : end
  return begunAt(asked, begins, left)
}
/** What was made for, or decided about, dates from a day on goes to another series. */
function handOver(
  { reader }: Engine,
  write: Writer,
  { id, next, from }: { id: SeriesId; next: SeriesId; from: IsoDate },
): void {
  for (const row of occurrencesFromOn.all(reader, { id, from })) {
    write.update('occurrences', row.id, { seriesId: next })
    if (row.taskId !== null && isThere.tasks.get(reader, { id: row.taskId }))
      write.update('tasks', row.taskId, { seriesId: next })
    if (row.projectId !== null && isThere.projects.get(reader, { id: row.projectId }))
      write.update('projects', row.projectId, { seriesId: next })
  }
  for (const decided of byHandOf.all(reader, { id }))
    if (localStamp(decided.scheduled).date >= from)
      write.update('seriesDates', decided.id, { seriesId: next })
}

/** Pauses or resumes; occurrences that passed while paused are skipped, not piled up. */
export function switchSeries(
  engine: Engine,
  viewer: Viewer,
  id: SeriesId,
  on: boolean,
): Changed<SeriesSheet> {
  needStructure(viewer, 'switch series')
  needSeries(engine, id)
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    const before = needSeries(engine, id)
    if (on && before.archivedAt !== null)
      refuse('archived', `“${before.name}” is archived; bring it back first.`)
    if (on && !before.on) passPause(engine, write, before)
    const row = needSeries(engine, id)
    write.update('series', row, { on, version: row.version + 1 })
    planSeries(engine, write, id)
  })
  return { result: seriesSheet(engine, viewer, id), change }
}

/** Makes another of a series, paused until it is looked at. */
export function copySeries(engine: Engine, viewer: Viewer, id: SeriesId): Changed<SeriesSheet> {
  needStructure(viewer, 'copy series')
  const { makes, schedule, leadDays, ways, clientId, name } = needSeries(engine, id)
  const { result: made, change } = engine.journal.change(actorOf(viewer), (write) =>
    write.insert('series', {
      ...{ name: `${name.slice(0, 110)}, copy`, makes, schedule, leadDays, ways, clientId },
      ...{ on: false, ownerId: viewer.id, createdAt: write.at },
    }),
  )
  return { result: seriesSheet(engine, viewer, made), change }
}

/** Puts a series aside, paused, or back; back, it stays paused until it is switched on. */
export function archiveSeries(
  engine: Engine,
  viewer: Viewer,
  id: SeriesId,
  on: boolean,
): Changed<SeriesSheet> {
  needStructure(viewer, 'archive series')
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    const row = needSeries(engine, id)
    write.update('series', row, {
      ...{ archivedAt: on ? write.at : null, version: row.version + 1 },
      ...(on && { on: false }),
    })
    planSeries(engine, write, id)
  })
  return { result: seriesSheet(engine, viewer, id), change }
}

/** Removes a series that has made nothing. @throws Refusal `in-use` */
export function removeSeries(engine: Engine, viewer: Viewer, id: SeriesId): Changed<void> {
  needStructure(viewer, 'remove series')
  const { name } = needSeries(engine, id)
  if (lastScheduled.get(engine.reader, { id })?.scheduled)
    refuse(
      'in-use',
      `“${name}” has made work that would lose where it came from; archive it instead.`,
    )
  return engine.journal.change(actorOf(viewer), (write) => {
    write.update('series', id, { on: false })
    planSeries(engine, write, id)
    write.remove('series', id)
  })
}
