import type { Instant, IsoDate, LocalStamp, LocalTime } from '#core/brands.ts'
import { richText } from '#core/text/rich.ts'
import { addWorkingDays } from '#core/calendar/calendar.ts'
import { localStamp, toInstant, zoneName } from '#core/calendar/dates.ts'
import { parseRRule } from '#core/recurrence/rrule.ts'
import { occurrencesAfter, type Occurrence, type Schedule } from '#core/recurrence/schedule.ts'
import { Refusal, refuse } from '#core/refusal.ts'
import { merge, servedPeriod } from '#core/text/merge.ts'
import { sayDate } from '#core/text/speak.ts'
import type { Makes, NextDate, ScheduleBody, SeriesBody, SeriesView } from '#contract/clockwork.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { needNewest } from '../../engine/versions.ts'
import { actorOf, needMember, needStructure, type Viewer } from '../../engine/viewer.ts'
import { isActive, personName } from '../people/queries.ts'
import { insertTask } from '../tasks/write.ts'
import { checkFillings, insertProject } from '../templates/service.ts'

export interface SeriesRow {
  id: number
  name: string
  makes: string
  schedule: string
  leadDays: number
  clientId: number | null
  ownerId: number | null
  on: number
  reached: string | null
  endedAt: number | null
  version: number
}

/** The time of day at which what is made ahead of its date is made. */
const MAKE_TIME = '06:00' as LocalTime

/**
 * Rules this fine would make work by the minute; the arithmetic knows them, a series does not take
 * them.
 */
const FINE: ReadonlySet<string> = new Set(['SECONDLY', 'MINUTELY', 'HOURLY'])
const FIRST_START = '2000-01-01'

const schedule = (row: SeriesRow): Schedule => JSON.parse(row.schedule) as Schedule
const makes = (row: SeriesRow): Makes => JSON.parse(row.makes) as Makes

/**
 * When an occurrence is made: so many working days before its date, at six, never after the
 * occurrence itself.
 */
export function makeAt(
  engine: Engine,
  leadDays: number,
  occurrence: Occurrence,
): { day: IsoDate; at: Instant } {
  const { date } = localStamp(occurrence.date)
  const day =
    leadDays === 0 ? date : addWorkingDays(engine.firm.calendar(), date, -leadDays, 'following')
  const at = toInstant(day, MAKE_TIME, engine.firm.zone())
  return {
    day,
    at:
      leadDays === 0 && localStamp(occurrence.date).time !== null
        ? (Math.min(at, occurrence.instant) as Instant)
        : at,
  }
}

/** The occurrence a series has to deal with next; null when its schedule has no date left. */
export function nextOccurrence(engine: Engine, row: SeriesRow): Occurrence | null {
  return (
    occurrencesAfter(schedule(row), engine.firm.calendar(), row.reached as LocalStamp | null).next()
      .value ?? null
  )
}

function nameOf(engine: Engine, what: Makes, date: IsoDate): string {
  const client =
    what.clientId === null
      ? null
      : (engine.db.prepare('select name, short from clients where id = ?').get(what.clientId) as
          { name: string; short: string } | undefined)
  return merge(what.kind === 'project' ? what.name : what.title, {
    client: client?.short ?? '',
    'client name': client?.name ?? '',
    date: { date },
    period: { date: servedPeriod(date, what.period) },
  })
}

/** Makes one occurrence inside a change; the unique key on it is what keeps it single. */
export function makeOccurrence(
  engine: Engine,
  write: Writer,
  row: SeriesRow,
  occurrence: Occurrence,
): { projectId: number | null; taskId: number | null; name: string } {
  const what = makes(row)
  const { date, time } = localStamp(occurrence.date)
  const name = nameOf(engine, what, date)
  let projectId: number | null = null
  let taskId: number | null = null
  if (what.kind === 'project')
    projectId = insertProject(engine, write, what.templateId, {
      ...what,
      name,
      anchor: date,
      seriesId: row.id,
      occurrence: occurrence.scheduled,
      creatorId: row.ownerId,
    })
  else
    taskId = insertTask(engine, write, {
      title: name,
      description: richText(what.description),
      clientId: what.clientId,
      projectId: what.projectId,
      assignees: what.assignees.filter((id) => isActive(engine, id)),
      estimate: what.estimate,
      checklist: [...what.checklist],
      due: date,
      dueTime: time?.slice(0, 5) ?? null,
      creatorId: row.ownerId,
      seriesId: row.id,
      occurrence: occurrence.scheduled,
    })
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

/**
 * Puts up the one alarm of a series for its next occurrence, or ends the series when none is left.
 */
export function planSeries(engine: Engine, write: Writer, id: number): void {
  const old = engine.db.prepare('select id from alarms where key = ?').get(`series:${id}`) as
    { id: number } | undefined
  if (old) write.remove('alarms', old.id)
  const row = engine.db.prepare('select * from series where id = ?').get(id) as SeriesRow
  if (!row.on) return
  const next = nextOccurrence(engine, row)
  if (next)
    write.insert('alarms', {
      at: makeAt(engine, row.leadDays, next).at,
      kind: 'series',
      key: `series:${id}`,
      seriesId: id,
    })
  else if (row.endedAt === null) write.update('series', id, { endedAt: write.at })
}

function why(occurrence: Occurrence, today: string): string | null {
  const { moved, scheduled } = occurrence
  if (!moved) return null
  if (moved.because === 'clock-change') return 'the clocks change at that time'
  return `${sayDate(scheduled, today)} is ${moved.because === 'holiday' ? moved.name : 'not a working day'}`
}

/** The next twelve dates of a schedule with the reason beside each that was moved. */
export function nextDates(
  engine: Engine,
  body: { schedule: ScheduleBody; leadDays: number; makes?: Makes },
  after: string | null = null,
): NextDate[] {
  const full = checkedSchedule(engine, body.schedule)
  const today = engine.firm.today()
  const out: NextDate[] = []
  for (const each of occurrencesAfter(full, engine.firm.calendar(), after as LocalStamp | null)) {
    if (after === null && each.date.slice(0, 10) < today) continue
    const { date } = localStamp(each.date)
    out.push({
      scheduled: each.scheduled,
      date: each.date,
      makeOn: makeAt(engine, body.leadDays, each).day,
      why: why(each, today),
      title: body.makes ? nameOf(engine, body.makes, date) : '',
    })
    if (out.length === 12) break
  }
  return out
}

function checkedSchedule(engine: Engine, body: ScheduleBody): Schedule {
  const { date, time } = localStamp(body.start, 'schedule.start')
  if (date < FIRST_START)
    refuse(
      'start-too-early',
      `A series starts in ${FIRST_START.slice(0, 4)} or later; ${date.slice(0, 4)} would be a slip of the keyboard.`,
      'schedule.start',
    )
  if (typeof body.rule === 'string' && FINE.has(parseRRule(body.rule).freq))
    refuse(
      'bad-rule',
      'A series repeats daily at the most; choose DAILY, WEEKLY, MONTHLY or YEARLY.',
      'schedule.rule',
    )
  return {
    ...body,
    start: (time ? `${date}T${time}` : date) as LocalStamp,
    zone: zoneName(body.zone ?? engine.firm.zone(), 'schedule.zone'),
  }
}

function warnings(engine: Engine, what: Makes): string[] {
  const out: string[] = []
  const left = (id: number, part: string) => {
    if (!isActive(engine, id))
      out.push(
        `${personName(engine, id) ?? `Person ${id}`} has left but is still ${part}; what is made will have nobody there.`,
      )
  }
  if (what.kind === 'task') for (const id of what.assignees) left(id, 'assigned')
  else {
    for (const filling of Object.values(what.roles))
      if ('person' in filling) left(filling.person, 'filling a role')
    const row = engine.db
      .prepare('select definition from templates where id = ?')
      .get(what.templateId) as { definition: string } | undefined
    for (const role of (
      JSON.parse(row?.definition ?? '{"roles":[]}') as { roles?: { key: string; name: string }[] }
    ).roles ?? [])
      if (!what.roles[role.key])
        out.push(`Nobody fills ${role.name}; its tasks will be made as loose ends.`)
  }
  return out
}

function view(engine: Engine, row: SeriesRow): SeriesView {
  const what = makes(row)
  const made = engine.db
    .prepare(
      'select o.scheduled, o.date, o.madeAt, p.id as projectId, p.name, t.id as taskId, t.title from occurrences o left join projects p on p.id = o.projectId left join tasks t on t.id = o.taskId where o.seriesId = ? order by o.scheduled desc limit 50',
    )
    .all(row.id) as {
    scheduled: string
    date: string
    madeAt: number
    projectId: number | null
    name: string
    taskId: number | null
    title: string
  }[]
  return {
    id: row.id,
    name: row.name,
    makes: what,
    schedule: schedule(row),
    leadDays: row.leadDays,
    on: row.on === 1,
    ended: row.endedAt !== null,
    version: row.version,
    client:
      row.clientId === null
        ? null
        : (engine.db.prepare('select id, name from clients where id = ?').get(row.clientId) as {
            id: number
            name: string
          }),
    next:
      row.endedAt === null
        ? nextDates(
            engine,
            { schedule: schedule(row), leadDays: row.leadDays, makes: what },
            row.reached,
          )
        : [],
    made: made.map((m) => ({
      scheduled: m.scheduled,
      date: m.date,
      at: m.madeAt,
      project: m.projectId === null ? null : { id: m.projectId, name: m.name },
      task: m.taskId === null ? null : { id: m.taskId, title: m.title },
    })),
    warnings: warnings(engine, what),
  }
}

export function listSeries(engine: Engine, viewer: Viewer): SeriesView[] {
  needMember(viewer, 'see series')
  return (engine.db.prepare('select * from series order by name').all() as SeriesRow[]).map((row) =>
    view(engine, row),
  )
}

export function seriesView(engine: Engine, viewer: Viewer, id: number): SeriesView {
  needMember(viewer, 'see series')
  const row = engine.db.prepare('select * from series where id = ?').get(id) as
    SeriesRow | undefined
  return row ? view(engine, row) : refuse('not-found', `There is no series ${id}.`)
}

function checkBody(engine: Engine, body: SeriesBody): Schedule {
  const full = checkedSchedule(engine, body.schedule)
  if (body.makes.kind === 'project') {
    checkFillings(engine, body.makes.roles)
    if (!engine.db.prepare('select 1 from templates where id = ?').get(body.makes.templateId))
      refuse(
        'no-such-template',
        `There is no template ${body.makes.templateId}.`,
        'makes.templateId',
      )
  } else
    for (const id of body.makes.assignees)
      if (!isActive(engine, id))
        refuse(
          'person-left',
          `${personName(engine, id) ?? 'That person'} has left; choose someone who is here.`,
          'makes.assignees',
        )
  if (
    body.makes.clientId !== null &&
    !engine.db.prepare('select 1 from clients where id = ?').get(body.makes.clientId)
  )
    refuse('no-such-client', `There is no client ${body.makes.clientId}.`, 'makes.clientId')
  return full
}

/**
 * The last scheduled time that is already behind: a series starts with the first date from today
 * on.
 */
function alreadyPast(engine: Engine, full: Schedule): string | null {
  const today = engine.firm.today()
  let last: string | null = null
  for (const each of occurrencesAfter(full, engine.firm.calendar(), null)) {
    if (each.date.slice(0, 10) >= today) return last
    last = each.scheduled
  }
  return refuse(
    'no-date-left',
    'This schedule has no date left: it ended before today. Choose a later end, or another rule.',
    'schedule',
  )
}

/** Inserts a series inside a change; answers its id. */
export function insertSeries(
  engine: Engine,
  write: Writer,
  body: SeriesBody,
  ownerId: number | null,
): number {
  const full = checkBody(engine, body)
  const reached = alreadyPast(engine, full)
  const id = write.insert('series', {
    name: body.name,
    makes: JSON.stringify(body.makes),
    schedule: JSON.stringify(full),
    leadDays: body.leadDays,
    clientId: body.makes.clientId,
    ownerId,
    reached,
    createdAt: write.at,
  })
  planSeries(engine, write, id)
  return id
}

export function makeSeries(engine: Engine, viewer: Viewer, body: SeriesBody): SeriesView {
  needStructure(viewer, 'make series')
  return seriesView(
    engine,
    viewer,
    engine.journal.change(actorOf(viewer), (write) => insertSeries(engine, write, body, viewer.id)),
  )
}

/** Saves a series; what it has made stays, later dates follow the new schedule. */
export function saveSeries(
  engine: Engine,
  viewer: Viewer,
  id: number,
  body: SeriesBody,
  seenVersion: number | null,
): SeriesView {
  needStructure(viewer, 'change series')
  const before = seriesView(engine, viewer, id)
  needNewest(seenVersion, before.version)
  engine.journal.change(actorOf(viewer), (write) => {
    const full = checkBody(engine, body)
    const past = alreadyPast(engine, full)
    const last = before.made[0]?.scheduled ?? null
    write.update('series', id, {
      name: body.name,
      makes: JSON.stringify(body.makes),
      schedule: JSON.stringify(full),
      leadDays: body.leadDays,
      clientId: body.makes.clientId,
      reached:
        [past, last]
          .filter((x): x is string => x !== null)
          .sort()
          .at(-1) ?? null,
      endedAt: null,
      version: before.version + 1,
    })
    planSeries(engine, write, id)
  })
  return seriesView(engine, viewer, id)
}

/** Pauses or resumes; occurrences that passed while paused are skipped, not piled up. */
export function switchSeries(engine: Engine, viewer: Viewer, id: number, on: boolean): SeriesView {
  needStructure(viewer, 'switch series')
  const before = seriesView(engine, viewer, id)
  engine.journal.change(actorOf(viewer), (write) => {
    let reached: string | null | undefined
    if (on && !before.on) {
      try {
        reached =
          [alreadyPast(engine, before.schedule), before.made[0]?.scheduled ?? null]
            .filter((x): x is string => x !== null)
            .sort()
            .at(-1) ?? null
      } catch (error) {
        // Every date passed during the pause: planning below ends the series.
        if (!(error instanceof Refusal) || error.code !== 'no-date-left') throw error
        reached = '9999'
      }
    }
    write.update('series', id, {
      on: on ? 1 : 0,
      ...(reached !== undefined && { reached }),
      version: before.version + 1,
    })
    planSeries(engine, write, id)
  })
  return seriesView(engine, viewer, id)
}
