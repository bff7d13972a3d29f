import type { LocalStamp, PersonId, SeriesId } from '#core/brands.ts'
import { occurrencesAfter, occurrencesFrom, type Schedule } from '#core/recurrence/schedule.ts'
import { addDays, isoDate, localStamp, localTime, stamp } from '#core/calendar/dates.ts'
import { refuse } from '#core/refusal.ts'
import type { Makes, SeriesBody, SeriesSheet } from '#contract/clockwork.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { needNewest } from '../../engine/versions.ts'
import { actorOf, needStructure, type Viewer } from '../../engine/viewer.ts'
import { needOwnContacts } from '../people/contacts.ts'
import { clientById, isActive, personName } from '../people/queries.ts'
import { homeOf } from '../tasks/queries.ts'
import { templateById } from '../templates/queries.ts'
import { checkFillings, fillersOf } from '../templates/start.ts'
import { makeAt, planSeries } from './make.ts'
import { lastMade, seriesById, type SeriesRecord } from './queries.ts'
import { checkedSchedule, seriesSheet } from './sheet.ts'

/** What a series makes points at must be there. @throws Refusal that names the place */
function checkMakes(engine: Engine, makes: Makes): void {
  const { reader } = engine
  if (makes.kind === 'project') {
    checkFillings(engine, makes.roles)
    if (!templateById.get(reader, { id: makes.templateId }))
      refuse('no-such-template', `There is no template ${makes.templateId}.`, 'makes.templateId')
  } else
    for (const id of makes.assignees)
      if (!isActive(reader, id))
        refuse(
          'person-left',
          `${personName(reader, id) ?? 'That person'} has left; choose someone who is here.`,
          'makes.assignees',
        )
  if (makes.clientId !== null && !clientById.get(reader, { id: makes.clientId }))
    refuse('no-such-client', `There is no client ${makes.clientId}.`, 'makes.clientId')
}

/** @throws Refusal `other-client` */
function checkContacts(engine: Engine, viewer: Viewer, { makes }: SeriesBody): void {
  const project = makes.kind === 'task' ? makes.projectId : null
  const home = project === null ? undefined : homeOf.get(engine.reader, { id: project })
  needOwnContacts(engine, viewer, {
    ids: makes.kind === 'project' ? fillersOf(makes.roles) : makes.assignees,
    client: makes.clientId ?? home?.clientId ?? null,
    place: makes.kind === 'project' ? 'makes.roles' : 'makes.assignees',
  })
}

/**
 * The scheduled time up to which all is behind (null: nothing is), since a series starts with the
 * first date from today on; undefined where every date is behind.
 */
function behind({ firm }: Engine, schedule: Schedule): LocalStamp | null | undefined {
  const next = occurrencesFrom(schedule, firm.calendar(), firm.today()).next().value
  if (!next) return undefined
  const { date } = localStamp(next.scheduled)
  return date <= localStamp(schedule.start).date ? null : stamp(addDays(date, -1), LAST_SECOND)
}
const LAST_SECOND = localTime('23:59:59')

const noneLeft = (): never =>
  refuse(
    'no-date-left',
    'This schedule has no date left: it ended before today. Choose a later end, or another rule.',
    'schedule',
  )

/** After every scheduled time there is: a series that has reached it ends. */
const END = stamp(isoDate('9999-12-31'), null)

/** The later of two scheduled times. */
const later = (a: LocalStamp | null, b: LocalStamp | null): LocalStamp | null =>
  a === null ? b : b === null ? a : a > b ? a : b

/** As many dates as are passed by at once. */
const MOST_PASSED = 1_000
/** The scheduled time up to which nothing is left that would be made at once. */
function passedNow(
  engine: Engine,
  { schedule, leadDays, reached }: Pick<SeriesRecord, 'schedule' | 'leadDays' | 'reached'>,
): LocalStamp | null {
  let last = reached
  let passed = 0
  for (const each of occurrencesAfter(schedule, engine.firm.calendar(), reached)) {
    if (makeAt(engine, leadDays, each).at > engine.clock.now() || ++passed > MOST_PASSED)
      return last
    last = each.scheduled
  }
  return last
}

/** Passes by what a series would make at once: it goes on with the date after. */
export function passBy(engine: Engine, write: Writer, row: SeriesRecord): void {
  write.update('series', row.id, { reached: passedNow(engine, row) })
  planSeries(engine, write, row.id)
}

/** What saving a series writes of it. */
function columnsOf(engine: Engine, body: SeriesBody) {
  const schedule = checkedSchedule(engine, body.schedule)
  checkMakes(engine, body.makes)
  const behindAll = behind(engine, schedule)
  const reached = behindAll === undefined ? noneLeft() : behindAll
  return {
    name: body.name,
    makes: body.makes,
    schedule,
    leadDays: body.leadDays,
    clientId: body.makes.clientId,
    reached: body.begin === 'next' ? passedNow(engine, { ...body, schedule, reached }) : reached,
  }
}

/** Inserts a series inside a change; answers its id. */
export function insertSeries(
  engine: Engine,
  write: Writer,
  body: SeriesBody,
  ownerId: PersonId | null,
): SeriesId {
  const id = write.insert('series', {
    ...columnsOf(engine, body),
    ownerId,
    createdAt: write.at,
  })
  planSeries(engine, write, id)
  return id
}

export function makeSeries(engine: Engine, viewer: Viewer, body: SeriesBody): Changed<SeriesSheet> {
  needStructure(viewer, 'make series')
  checkContacts(engine, viewer, body)
  const { result: id, change } = engine.journal.change(actorOf(viewer), (write) =>
    insertSeries(engine, write, body, viewer.id),
  )
  return { result: seriesSheet(engine, viewer, id), change }
}

/** @throws Refusal `not-found` */
const needSeries = (engine: Engine, id: SeriesId): SeriesRecord =>
  seriesById.get(engine.reader, { id })?.series ?? refuse('not-found', `There is no series ${id}.`)

/** The scheduled time that a series has made last. */
const made = (engine: Engine, id: SeriesId): LocalStamp | null =>
  lastMade.get(engine.reader, { id })?.scheduled ?? null

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
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    const row = needSeries(engine, id)
    const columns = columnsOf(engine, body)
    write.update('series', row, {
      ...columns,
      reached: later(columns.reached, made(engine, id)),
      endedAt: null,
      version: row.version + 1,
    })
    planSeries(engine, write, id)
  })
  return { result: seriesSheet(engine, viewer, id), change }
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
    const row = needSeries(engine, id)
    if (on && row.archivedAt !== null)
      refuse('archived', `“${row.name}” is archived; bring it back first.`)
    const past = on && !row.on ? behind(engine, row.schedule) : null
    write.update('series', row, {
      on,
      // Where every date passed during the pause, planning below ends the series.
      ...(on && !row.on && { reached: past === undefined ? END : later(past, made(engine, id)) }),
      version: row.version + 1,
    })
    planSeries(engine, write, id)
  })
  return { result: seriesSheet(engine, viewer, id), change }
}

/** Makes another of a series, paused until it is looked at. */
export function copySeries(engine: Engine, viewer: Viewer, id: SeriesId): Changed<SeriesSheet> {
  needStructure(viewer, 'copy series')
  const { makes, schedule, leadDays, clientId, name } = needSeries(engine, id)
  const { result: made, change } = engine.journal.change(actorOf(viewer), (write) =>
    write.insert('series', {
      ...{ name: `${name.slice(0, 110)}, copy`, makes, schedule, leadDays, clientId },
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
  if (made(engine, id) !== null)
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
