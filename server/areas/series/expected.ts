import type { IsoDate, PersonId } from '#core/brands.ts'
import { addDays, localStamp } from '#core/calendar/dates.ts'
import type { Coming } from '#core/recurrence/coming.ts'
import { plan } from '#core/templates/plan.ts'
import type { Template } from '#core/templates/template.ts'
import type { ExpectedQuery, ExpectedWork, Makes } from '#contract/series.ts'
import type { Row } from '../../database/query.ts'
import type { Engine } from '../../engine/services.ts'
import { isGuest, type Viewer } from '../../engine/viewer.ts'
import { allTemplates } from '../templates/queries.ts'
import { askedDays, comingOf, readAll } from './coming.ts'
import { naming } from './make.ts'
import { namedIn } from './people.ts'
import { allSeries, type SeriesRecord } from './queries.ts'

/**
 * Work that series will make and have not made yet, reckoned when it is asked for: nothing of it is
 * stored. Its cost is that of the dates asked for.
 */

/** As far ahead as it is told, and as much of it at once. */
const [MOST_DAYS, MOST] = [400, 5_000]
/** How far past the days asked for an anchor may lie and still have tasks in them, in calendar days. */
const REACH = 60

type MakesProject = Extract<Makes, { kind: 'project' }>
/** What one project of a series asks of people, on an anchor. */
export function plannedOf(
  { firm }: Pick<Engine, 'firm'>,
  template: Template,
  makes: MakesProject,
  anchor: IsoDate,
) {
  const roles = Object.fromEntries(
    Object.entries(makes.roles).flatMap(([role, filling]) =>
      'person' in filling ? [[role, String(filling.person)]] : [],
    ),
  )
  return plan({ template, anchor, roles, firm: firm.calendar() }).tasks
}

/** Whether what a series makes is what is asked about. */
function isOf({ makes }: SeriesRecord, { of, id }: ExpectedQuery): boolean {
  if (of === 'client') return makes.clientId === id
  if (of === 'project') return makes.kind === 'task' && makes.projectId === id
  return of === 'firm' || namedIn(makes).includes(id ?? 0)
}

/** How one kind of series shows what is expected of it. */
interface Shown {
  readonly row: SeriesRecord
  readonly name: (date: IsoDate) => string
  readonly client: Row<typeof allSeries>['client']
  readonly template: Template | undefined
}
const common = ({ row, client }: Shown, { scheduled }: Coming) => ({
  ...{ series: row.id, name: row.name, scheduled },
  client: client && { id: client.id, name: client.short },
})
function taskOf(shown: Shown, one: Coming, makes: Extract<Makes, { kind: 'task' }>): ExpectedWork {
  const { date, time } = localStamp(one.date)
  return {
    ...common(shown, one),
    ...{ title: shown.name(date), start: null, due: date, dueTime: time?.slice(0, 5) ?? null },
    ...{ minutes: makes.estimate, projectId: makes.projectId, people: makes.assignees },
  }
}
/** A project as one bar; of a person, their tasks in it. */
function* projectOf(
  engine: Engine,
  shown: Shown,
  one: Coming,
  { makes, person }: { makes: MakesProject; person: PersonId | null },
): Generator<ExpectedWork> {
  const { template, name } = shown
  const { date } = localStamp(one.date)
  if (!template) return
  const tasks = plannedOf(engine, template, makes, date)
  const more = { ...common(shown, one), dueTime: null, projectId: null }
  if (person === null) {
    const starts = tasks.map(({ start, due }) => start ?? due).sort()
    const people = namedIn(makes)
    yield { ...more, title: name(date), start: starts[0] ?? null, due: date, minutes: null, people }
    return
  }
  for (const { title, start, due, effort, assignees } of tasks)
    if (assignees.includes(String(person)))
      yield { ...more, title, start, due, minutes: effort, people: [person] }
}

type Days = ReturnType<typeof askedDays>
/** Whether it lies on any of these days. */
const within = ({ start, due }: ExpectedWork, { from, to }: Days): boolean =>
  due >= from && (start ?? due) <= to

/** What one series is expected to make on some days. */
function* ofSeries(
  engine: Engine,
  shown: Shown,
  { days, all, person }: { days: Days; all: Iterable<Coming>; person: PersonId | null },
): Generator<ExpectedWork> {
  const { makes } = shown.row
  const until = addDays(days.to, REACH)
  for (const one of all) {
    if (localStamp(one.date).date > until) return
    const made =
      makes.kind === 'task'
        ? [taskOf(shown, one, makes)]
        : projectOf(engine, shown, one, { makes, person })
    for (const work of made) if (within(work, days)) yield work
  }
}

/** What is expected on some days: of the firm, a client, a project or a person; guests see none. */
export function expectedWork(engine: Engine, viewer: Viewer, asked: ExpectedQuery): ExpectedWork[] {
  const { from: first, to } = askedDays(asked, MOST_DAYS)
  const today = engine.firm.today()
  const days = { from: first > today ? first : today, to }
  if (isGuest(viewer)) return []
  const read = readAll(engine)
  const person = asked.of === 'person' ? (asked.id ?? 0) : null
  const templates = new Map(
    allTemplates.all(engine.reader).map(({ id, definition }) => [Number(id), definition]),
  )
  const from = addDays(days.from, -REACH)
  const out: ExpectedWork[] = []
  for (const { series: row, client } of allSeries.all(engine.reader)) {
    if (!row.on || row.endedAt !== null || !isOf(row, asked)) continue
    const { makes } = row
    const template = makes.kind === 'project' ? templates.get(makes.templateId) : undefined
    const shown = { row, client, template, name: naming(makes, client) }
    const all = comingOf(engine, row, read(row), from)
    for (const work of ofSeries(engine, shown, { days, all, person }))
      if (out.push(work) >= MOST) return out
  }
  return out
}
