import type { ClientId, IsoDate, SeriesId } from '#core/brands.ts'
import { plan } from '#core/templates/plan.ts'
import { addDays, localStamp } from '#core/calendar/dates.ts'
import { usualFor } from '#core/people/usual.ts'
import type { Coming } from '#core/recurrence/coming.ts'
import { isByEvents } from '#core/recurrence/course.ts'
import { refuse } from '#core/refusal.ts'
import { sayDate } from '#core/text/speak.ts'
import type { DatesBody, Makes, NextDate, SeriesSummary, SeriesSheet } from '#contract/series.ts'
import { actionsOf } from '#contract/rules.ts'
import type { Row } from '../../database/query.ts'
import type { Engine } from '../../engine/services.ts'
import { needMember, sightOf, type Viewer } from '../../engine/viewer.ts'
import { everyUsual } from '../clients/queries.ts'
import { everybody, personName } from '../people/queries.ts'
import { isAway } from '../people/who.ts'
import { allRules } from '../rules/queries.ts'
import { rolesIn, templateById } from '../templates/queries.ts'
import { checkedSchedule } from './check.ts'
import { comingOf, firstOf, madeFor, readAll, readOf } from './coming.ts'
import { clientOf, naming } from './make.ts'
import { namedIn } from './people.ts'
import { allSeries, madeBy, seriesById, seriesFor, type SeriesRecord } from './queries.ts'
import { reachedBy } from './reached.ts'
import { pastDate } from './went.ts'

/** Series as they are shown. */

function why(occurrence: Coming, today: string): string | null {
  const { moved, scheduled, byHand } = occurrence
  if (byHand) return `${sayDate(scheduled, today)}, moved by hand`
  if (!moved) return null
  if (moved.because === 'clock-change') return 'the clocks change at that time'
  return `${sayDate(scheduled, today)} is ${moved.because === 'holiday' ? moved.name : 'not a working day'}`
}

/** As many dates as are shown wherever a schedule is edited. */
const SHOWN = 12
/** What is known of a series whose dates are shown; what it makes, where that is to be named. */
interface Shown extends Pick<SeriesRecord, 'leadDays' | 'ways'> {
  readonly makes?: Makes
}
/** The next dates, with the reason beside each that was moved. */
function shownDates(engine: Engine, { makes, ...row }: Shown, all: Iterable<Coming>): NextDate[] {
  const today = engine.firm.today()
  const now = engine.clock.now()
  const name = makes ? naming(makes, clientOf(engine, makes)) : () => ''
  const lateNow = makes ? lateAtBirth(engine, makes) : () => 0
  const awayOn = makes ? whoIsAway(engine, makes) : () => []
  const out: NextDate[] = []
  for (const each of all) {
    const { date } = localStamp(each.date)
    const { day, at } = madeFor(engine, row, each)
    out.push({
      ...{ scheduled: each.scheduled, date: each.date, makeOn: day },
      ...{ joins: each.joins, byHand: each.byHand },
      why: why(each, today),
      title: name(date),
      now: at <= now,
      late: at <= now ? lateNow(date) : 0,
      away: awayOn(date),
    })
    if (out.length === SHOWN) break
  }
  return out
}

/** Who of those that something is for is away on a day, by name. */
function whoIsAway({ reader }: Engine, makes: Makes): (date: IsoDate) => string[] {
  const people = namedIn(makes)
  return (date) =>
    people.filter((id) => isAway(reader, id, date)).map((id) => personName(reader, id) ?? '')
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
  { schedule, leadDays, makes, series, ways = {} }: DatesBody,
): NextDate[] {
  needMember(viewer, 'see schedules')
  const checked = checkedSchedule(engine, schedule)
  const row =
    series === undefined ? undefined : seriesById.get(engine.reader, { id: series })?.series
  const id = row?.id ?? 0
  const reached = reachedBy(engine, checked, row) ?? null
  const standing = { id, schedule: checked, ways, reached }
  return shownDates(engine, { leadDays, ways, ...(makes && { makes }) }, comingOf(engine, standing))
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

/** As many dates as are shown of the half year to come, in calendar days. */
const [MOST_AHEAD, AHEAD] = [200, 183]
function datesAhead({ firm }: Engine, all: Iterable<Coming>): string[] {
  const last = addDays(firm.today(), AHEAD)
  const out: string[] = []
  for (const { date } of all)
    if (localStamp(date).date > last || out.push(date) >= MOST_AHEAD) return out
  return out
}
/** The rules that make the next of a series. */
const rulesBringing = ({ reader }: Engine, id: SeriesId): SeriesSheet['rules'] =>
  allRules.all(reader).flatMap(({ rule: { definition, ...rule } }) => {
    const brings = actionsOf(definition).some(
      (one) => one.kind === 'bring-next' && one.series === id,
    )
    return brings ? [{ id: rule.id, name: rule.name, on: rule.on }] : []
  })
function view(
  engine: Engine,
  viewer: Viewer,
  { series: row, client }: Row<typeof seriesById>,
): SeriesSheet {
  const { reader, firm } = engine
  const { id, makes, schedule, leadDays, ways, endedAt } = row
  const read = readOf(engine, row)
  const dealt = madeBy.all(reader, { id, sight: sightOf(viewer), today: firm.today() })
  return {
    ...{ id, name: row.name, makes, schedule, leadDays, ways },
    on: row.on,
    ended: endedAt !== null,
    archived: row.archivedAt !== null,
    version: row.version,
    client: client && { id: client.id, name: client.name },
    next: endedAt === null ? shownDates(engine, row, comingOf(engine, row, read)) : [],
    ahead: endedAt === null && row.on ? datesAhead(engine, comingOf(engine, row, read)) : [],
    made: dealt.map((one) => pastDate(engine, one)),
    leftOut: read.byHand
      .filter(({ date, scheduled }) => date === null && !read.settled.has(scheduled))
      .map(({ scheduled }) => scheduled)
      .sort(),
    rules: isByEvents(schedule) ? rulesBringing(engine, id) : [],
    warnings: warner(engine)(makes),
  }
}

/** Series as their list shows them, each with its next date: all, or those of a client. */
export function listSeries(engine: Engine, viewer: Viewer, of?: ClientId): SeriesSummary[] {
  needMember(viewer, 'see series')
  const warn = warner(engine)
  const read = readAll(engine)
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
    byEvents: isByEvents(row.schedule),
    next: row.endedAt === null ? (firstOf(comingOf(engine, row, read(row)))?.date ?? null) : null,
    troubled: warn(row.makes).length > 0,
  }))
}

/** @throws Refusal `not-found` */
export function seriesSheet(engine: Engine, viewer: Viewer, id: SeriesId): SeriesSheet {
  needMember(viewer, 'see series')
  const row = seriesById.get(engine.reader, { id })
  return row ? view(engine, viewer, row) : refuse('not-found', `There is no series ${id}.`)
}
