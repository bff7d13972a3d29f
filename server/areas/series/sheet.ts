import type { ClientId, IsoDate, LocalStamp, SeriesId } from '#core/brands.ts'
import { plan } from '#core/templates/plan.ts'
import { localStamp, stamp, workDay, zoneName } from '#core/calendar/dates.ts'
import { usualFor } from '#core/people/usual.ts'
import { parseRRule, type RRule } from '#core/recurrence/rrule.ts'
import {
  occurrencesAfter,
  occurrencesFrom,
  type Occurrence,
  type Schedule,
} from '#core/recurrence/schedule.ts'
import { refuse } from '#core/refusal.ts'
import { sayDate } from '#core/text/speak.ts'
import type {
  DatesBody,
  Makes,
  NextDate,
  ScheduleBody,
  SeriesSummary,
  SeriesSheet,
} from '#contract/clockwork.ts'
import type { Row } from '../../database/query.ts'
import type { Engine } from '../../engine/services.ts'
import { needMember, sightOf, type Viewer } from '../../engine/viewer.ts'
import { everyUsual } from '../clients/queries.ts'
import { everybody } from '../people/queries.ts'
import { rolesIn, templateById } from '../templates/queries.ts'
import { makeAt, naming, nextOccurrence } from './make.ts'
import { allSeries, lastMade, madeBy, seriesById, seriesFor } from './queries.ts'

/** Rules this fine would make work by the minute; the arithmetic knows them, a series does not. */
const FINE: ReadonlySet<string> = new Set(['SECONDLY', 'MINUTELY', 'HOURLY'])
const FIRST_START = '2000-01-01'
/** As many times as a series may have in one day, and dates in all where it counts them. */
const MOST_A_DAY = 24
const MOST_COUNTED = 10_000
/** As many dates as are shown wherever a schedule is edited. */
const SHOWN = 12

/** What the arithmetic knows and a series does not. @throws Refusal `bad-rule` */
function checkRule({ freq, count = 1, byHour = [0], byMinute = [0], bySecond = [0] }: RRule): void {
  const bad = (sentence: string) => refuse('bad-rule', sentence, 'schedule.rule')
  if (FINE.has(freq))
    bad('A series repeats daily at the most; choose DAILY, WEEKLY, MONTHLY or YEARLY.')
  if (byHour.length * byMinute.length * bySecond.length > MOST_A_DAY)
    bad(`A series has ${MOST_A_DAY} times a day at the most; name fewer hours or minutes.`)
  if (count > MOST_COUNTED)
    bad(
      `A series counts ${MOST_COUNTED.toLocaleString('en-GB')} dates at the most; end it on a day.`,
    )
}

/** A schedule as it is kept. @throws Refusal where it cannot be read, or is too early or too fine */
export function checkedSchedule({ firm }: Engine, body: ScheduleBody): Schedule {
  const { date, time } = localStamp(body.start, 'schedule.start')
  if (date < FIRST_START)
    refuse(
      'start-too-early',
      `A series starts in ${FIRST_START.slice(0, 4)} or later; ${date.slice(0, 4)} would be a slip of the keyboard.`,
      'schedule.start',
    )
  workDay(date, 'schedule.start')
  if (typeof body.rule === 'string') checkRule(parseRRule(body.rule))
  const zone = zoneName(body.zone ?? firm.zone(), 'schedule.zone')
  return { ...body, start: stamp(date, time), zone }
}
function why(occurrence: Occurrence, today: string): string | null {
  const { moved, scheduled } = occurrence
  if (!moved) return null
  if (moved.because === 'clock-change') return 'the clocks change at that time'
  return `${sayDate(scheduled, today)} is ${moved.because === 'holiday' ? moved.name : 'not a working day'}`
}

/** The next dates of a schedule that stands, with the reason beside each that was moved. */
function datesAfter(
  engine: Engine,
  schedule: Schedule,
  { leadDays, makes, after }: { leadDays: number; makes?: Makes; after: LocalStamp | null },
): NextDate[] {
  const today = engine.firm.today()
  const now = engine.clock.now()
  const name = makes ? naming(engine, makes) : () => ''
  const lateNow = makes ? lateAtBirth(engine, makes) : () => 0
  const out: NextDate[] = []
  const calendar = engine.firm.calendar()
  for (const each of after === null
    ? occurrencesFrom(schedule, calendar, today)
    : occurrencesAfter(schedule, calendar, after)) {
    const { date } = localStamp(each.date)
    const { day, at } = makeAt(engine, leadDays, each)
    out.push({
      scheduled: each.scheduled,
      date: each.date,
      makeOn: day,
      why: why(each, today),
      title: name(date),
      now: at <= now,
      late: at <= now ? lateNow(date) : 0,
    })
    if (out.length === SHOWN) break
  }
  return out
}

/**
 * How many tasks of what is made for a date would be late already, were it made now. Its template is
 * looked up once for many dates.
 */
function lateAtBirth({ reader, firm }: Engine, makes: Makes): (date: IsoDate) => number {
  const today = firm.today()
  if (makes.kind === 'task') return (date) => (date < today ? 1 : 0)
  const template = templateById.get(reader, { id: makes.templateId })?.definition
  if (!template) return () => 0
  const calendar = firm.calendar()
  return (anchor) =>
    plan({ template, anchor, firm: calendar }).tasks.filter((task) => task.due < today).length
}

/** The next twelve dates of a schedule that is being edited, but for what its series has made. */
export function nextDates(
  engine: Engine,
  viewer: Viewer,
  { schedule, leadDays, makes, series }: DatesBody,
): NextDate[] {
  needMember(viewer, 'see schedules')
  const made = series === undefined ? undefined : lastMade.get(engine.reader, { id: series })
  const more = { leadDays, ...(makes && { makes }) }
  const checked = checkedSchedule(engine, schedule)
  const next = datesAfter(engine, checked, { ...more, after: null })
  const last = made?.scheduled ?? null
  if (last === null || !next[0] || next[0].scheduled > last) return next
  return datesAfter(engine, checked, { ...more, after: last })
}

/**
 * What stands in the way of series: people who left, roles that nobody fills. People, and who usually
 * does what for clients, are looked up once for many series, templates once each.
 */
function warner({ reader }: Engine): (makes: Makes) => string[] {
  const people = new Map(everybody.all(reader).map((person) => [Number(person.id), person]))
  const roles = new Map<number, readonly { key: string; name: string }[]>()
  const rolesOf = (id: number) => {
    let known = roles.get(id)
    if (!known) roles.set(id, (known = rolesIn(reader, id)))
    return known
  }
  let usual: Row<typeof everyUsual>[] | null = null
  const usualOf = (client: ClientId | null) =>
    (usual ??= everyUsual.all(reader)).filter(({ clientId }) => clientId === client)
  const left = (id: number, part: string): string[] => {
    const person = people.get(id)
    const name = person?.name ?? `Person ${id}`
    return person?.active
      ? []
      : [`${name} has left but is still ${part}; what is made will have nobody there.`]
  }
  return (makes) => {
    if (makes.kind === 'task') return makes.assignees.flatMap((id) => left(id, 'assigned'))
    const filled = Object.values(makes.roles).flatMap((filling) =>
      'person' in filling ? left(filling.person, 'filling a role') : [],
    )
    const unfilled = rolesOf(makes.templateId).filter((role) => !makes.roles[role.key])
    const usual = usualFor(unfilled, unfilled.length ? usualOf(makes.clientId) : [])
    const open = unfilled.filter(({ key }) => people.get(usual.get(key) ?? 0)?.active !== true)
    return [
      ...filled,
      ...open.map((r) => `Nobody fills ${r.name}; its tasks will be made as loose ends.`),
    ]
  }
}

function view(
  engine: Engine,
  viewer: Viewer,
  { series: row, client }: Row<typeof seriesById>,
): SeriesSheet {
  const { makes, schedule, leadDays, endedAt } = row
  return {
    id: row.id,
    name: row.name,
    makes,
    schedule,
    leadDays,
    on: row.on,
    ended: endedAt !== null,
    archived: row.archivedAt !== null,
    version: row.version,
    client: client && { id: client.id, name: client.name },
    next:
      endedAt === null ? datesAfter(engine, schedule, { leadDays, makes, after: row.reached }) : [],
    made: madeBy.all(engine.reader, { id: row.id, sight: sightOf(viewer) }),
    warnings: warner(engine)(makes),
  }
}

/** Series as their list shows them, each with its next date: all, or those of a client. */
export function listSeries(engine: Engine, viewer: Viewer, of?: ClientId): SeriesSummary[] {
  needMember(viewer, 'see series')
  const warn = warner(engine)
  const { reader } = engine
  const found = of === undefined ? allSeries.all(reader) : seriesFor.all(reader, { client: of })
  return found.map(({ series: row, client }) => ({
    id: row.id,
    name: row.name,
    on: row.on,
    ended: row.endedAt !== null,
    archived: row.archivedAt !== null,
    version: row.version,
    client: client && { id: client.id, name: client.name },
    next: row.endedAt === null ? (nextOccurrence(engine, row)?.date ?? null) : null,
    troubled: warn(row.makes).length > 0,
  }))
}

/** @throws Refusal `not-found` */
export function seriesSheet(engine: Engine, viewer: Viewer, id: SeriesId): SeriesSheet {
  needMember(viewer, 'see series')
  const row = seriesById.get(engine.reader, { id })
  return row ? view(engine, viewer, row) : refuse('not-found', `There is no series ${id}.`)
}
