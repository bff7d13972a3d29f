import type { IsoDate, ProjectId, SeriesId, TaskId } from '#core/brands.ts'
import { localStamp } from '#core/calendar/dates.ts'
import { makeAt as madeAt } from '#core/recurrence/course.ts'
import { occurrencesAfter, type Occurrence } from '#core/recurrence/schedule.ts'
import { merge, servedPeriod } from '#core/text/merge.ts'
import { richText } from '#core/text/rich.ts'
import { sayDate } from '#core/text/speak.ts'
import type { Makes } from '#contract/clockwork.ts'
import type { AlarmKind } from '../../engine/handlers.ts'
import { ENGINE, type Deriver, type Item, type Writer } from '../../engine/journal.ts'
import { alarmById, alarmByKey, type AlarmRow } from '../../engine/queries.ts'
import type { Large, Steps } from '../../engine/portions.ts'
import { recordRun } from '../../engine/runs.ts'
import type { Engine } from '../../engine/services.ts'
import { copyShares } from '../access/shares.ts'
import { withUsual } from '../clients/usual.ts'
import { setPlanned } from '../reminders/planned.ts'
import { movesDays } from '../rules/ladder-alarms.ts'
import { clientById, isActive } from '../people/queries.ts'
import { projectAtRest } from '../tasks/rest.ts'
import { insertTask } from '../tasks/write.ts'
import { rolesIn } from '../templates/queries.ts'
import { projectSteps, tasksIn } from '../templates/start.ts'
import { allSeries, lastProject, seriesById, type SeriesRecord } from './queries.ts'

/** What a series does by itself: its next occurrence made, its next alarm put up. */

/** When an occurrence of the firm's is made: so many working days ahead. */
export const makeAt = (
  { firm }: Pick<Engine, 'firm'>,
  leadDays: number,
  occurrence: Occurrence,
): ReturnType<typeof madeAt> =>
  madeAt({ cal: firm.calendar(), zone: firm.zone() }, leadDays, occurrence)

/** The occurrence a series has to deal with next; null when its schedule has no date left. */
export const nextOccurrence = (
  { firm }: Pick<Engine, 'firm'>,
  row: Pick<SeriesRecord, 'schedule' | 'reached'>,
): Occurrence | null =>
  occurrencesAfter(row.schedule, firm.calendar(), row.reached).next().value ?? null

/** Names by date for one client, looked up once for many dates. */
export function naming({ reader }: Engine, what: Makes): (date: IsoDate) => string {
  const client = what.clientId === null ? undefined : clientById.get(reader, { id: what.clientId })
  const text = what.kind === 'project' ? what.name : what.title
  return (date) =>
    merge(text, {
      client: client?.short ?? '',
      'client name': client?.name ?? '',
      date: { date },
      period: { date: servedPeriod(date, what.period) },
    })
}

/** What was made of an occurrence. */
export interface Made {
  readonly projectId: ProjectId | null
  readonly taskId: TaskId | null
  readonly name: string
}

/** Makes one occurrence inside a change; the unique key on it is what keeps it single. */
function* makeOccurrence(
  engine: Engine,
  write: Writer,
  row: SeriesRecord,
  occurrence: Occurrence,
): Steps<Made> {
  const what = row.makes
  const { date, time } = localStamp(occurrence.date)
  const name = naming(engine, what)(date)
  const common = { creatorId: row.ownerId, seriesId: row.id, occurrence: occurrence.scheduled }
  let projectId: ProjectId | null = null
  let taskId: TaskId | null = null
  if (what.kind === 'project') {
    // What comes by itself is seen by nobody who did not see the one before.
    const before = lastProject.get(engine.reader, { id: row.id })
    const seen = before && { audience: before.audience, teamId: before.teamId }
    projectId = yield* projectSteps(engine, write, what.templateId, {
      ...{ ...what, ...common, name, anchor: date },
      roles: withUsual(engine, what.clientId, rolesIn(engine.reader, what.templateId), what.roles),
      ...(seen && { seen }),
    })
    if (before) copyShares(engine, write, before.id, projectId)
  } else {
    taskId = insertTask(engine, write, {
      ...common,
      title: name,
      description: richText(what.description),
      clientId: what.clientId,
      projectId: what.projectId,
      assignees: what.assignees.filter((id) => isActive(engine.reader, id)),
      estimate: what.estimate,
      checklist: [...what.checklist],
      due: date,
      dueTime: time?.slice(0, 5) ?? null,
    })
    setPlanned(write, taskId, what.reminders, null)
  }
  write.insert('occurrences', {
    seriesId: row.id,
    scheduled: occurrence.scheduled,
    date: occurrence.date,
    projectId,
    taskId,
    madeAt: write.at,
  })
  write.update('series', row.id, { reached: occurrence.scheduled })
  return { projectId, taskId, name }
}

/** Puts up the one alarm of a series for its next occurrence, or ends it when none is left. */
export function planSeries(
  engine: Pick<Engine, 'reader' | 'firm'>,
  write: Writer,
  id: SeriesId,
): void {
  const { reader } = engine
  const key = `series:${id}`
  const old = alarmByKey.get(reader, { key })
  if (old) write.remove('alarms', old.id)
  const row = seriesById.get(reader, { id })?.series
  if (!row?.on) return
  const next = nextOccurrence(engine, row)
  if (next) {
    const { at } = makeAt(engine, row.leadDays, next)
    write.insert('alarms', { at, kind: 'series', key, itemKind: 'series', itemId: id })
  } else if (row.endedAt === null) write.update('series', row.id, { endedAt: write.at })
}

/** Other working days, or another zone, move when what was not made yet is made. */
export const seriesDays =
  (engine: Pick<Engine, 'reader' | 'firm'>): Deriver =>
  (write, entries) => {
    if (!entries.some(movesDays)) return
    for (const { series } of allSeries.all(engine.reader))
      if (series.on && series.endedAt === null) planSeries(engine, write, series.id)
  }

/** What a series makes goes into a project that stands still. */
const atRest = ({ reader }: Engine, makes: Makes): boolean =>
  makes.kind === 'task' && makes.projectId !== null && projectAtRest(reader, makes.projectId)

/** Passes by an occurrence, and says so: it is not made up for later. */
function skipOne(write: Writer, row: SeriesRecord, { scheduled, date }: Occurrence): void {
  write.update('series', row.id, { reached: scheduled })
  recordRun(write, {
    key: `series:${row.id}:${scheduled}`,
    ...{ by: { series: row.id }, version: row.version, about: null, outcome: 'skipped' },
    summary: `Passed by ${sayDate(date)}`,
    reasons: ['Its project stands still: it is finished, archived, proposed or on hold'],
  })
}

/** Makes an occurrence, and writes it into the run log. */
function* makeOne(engine: Engine, write: Writer, row: SeriesRecord, next: Occurrence): Steps<void> {
  const made = yield* makeOccurrence(engine, write, row, next)
  const moved = next.moved
    ? `, moved from ${sayDate(next.scheduled)} (${next.moved.name || next.moved.because})`
    : ''
  recordRun(write, {
    key: `series:${row.id}:${next.scheduled}`,
    ...{ by: { series: row.id }, version: row.version, about: itemOf(made) },
    ...{ outcome: 'done', summary: `Made “${made.name}”` },
    reasons: [
      `For ${sayDate(next.date)}${moved}`,
      row.leadDays ? `Made ${row.leadDays} working days ahead` : 'Made on the day',
    ],
  })
}

/** An alarm of a series: one occurrence made, the next alarm put up. */
function runSeries(engine: Engine, { id: alarm, itemId: id }: AlarmRow): Large<void> {
  const { reader, journal } = engine
  const standing = () => seriesById.get(reader, { id })?.series
  const makes = standing()?.makes
  return journal.large({
    actor: { kind: 'series', id },
    size: makes?.kind === 'project' ? tasksIn(engine, makes.templateId) : 1,
    *work(write) {
      // Somebody may have changed the series since: then another alarm stands.
      if (!alarmById.get(reader, { id: alarm })) return
      const row = standing()
      const next = row?.on ? nextOccurrence(engine, row) : null
      if (row && next && atRest(engine, row.makes)) skipOne(write, row, next)
      else if (row && next) yield* makeOne(engine, write, row, next)
      planSeries(engine, write, id)
    },
  })
}
const itemOf = ({ taskId, projectId }: Made): Item | null =>
  taskId !== null
    ? { kind: 'task', id: taskId }
    : projectId === null
      ? null
      : { kind: 'project', id: projectId }

const HOUR = 3_600_000
function seriesFailed({ journal }: Engine, alarm: AlarmRow, reason: string): void {
  journal.change(ENGINE, (write) => {
    write.update('alarms', alarm, { at: write.at + HOUR })
    recordRun(write, {
      key: `failed:${alarm.id}:${alarm.at}:${write.at}`,
      ...{ by: { series: alarm.itemId }, about: null, outcome: 'failed' },
      summary: 'Could not make the next one; trying again in an hour',
      reasons: [reason],
    })
  })
}

export const seriesKind: AlarmKind = { kind: 'series', run: runSeries, failed: seriesFailed }
