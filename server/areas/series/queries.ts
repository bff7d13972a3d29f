import {
  and,
  asc,
  count,
  desc,
  eq,
  getTableColumns,
  gt,
  gte,
  inArray,
  isNotNull,
  isNull,
  lt,
  max,
  or,
  sql,
  type SQL,
} from 'drizzle-orm'
import { union } from 'drizzle-orm/sqlite-core'
import type { ClientId, IsoDate, PersonId, ProjectId, SeriesId, TaskId } from '#core/brands.ts'
import { most, ready, within, type Orm, type Row } from '../../database/query.ts'
import { seesProject, seesTask } from '../../database/sees.ts'
import type { Sight } from '../../database/sight.ts'
import {
  taskAssignees,
  attachments,
  clients,
  occurrences,
  people,
  projects,
  series,
  seriesAudits,
  seriesDates,
  seriesPeople,
  tasks,
} from '../../database/tables/index.ts'

const row = {
  series: getTableColumns(series),
  client: { id: clients.id, name: clients.name, short: clients.short },
}
export const seriesById = ready((orm, a: { id: SeriesId }) =>
  orm
    .select(row)
    .from(series)
    .leftJoin(clients, eq(clients.id, series.clientId))
    .where(eq(series.id, a.id)),
)
export type SeriesRecord = Row<typeof seriesById>['series']
export const allSeries = ready((orm) =>
  orm
    .select(row)
    .from(series)
    .leftJoin(clients, eq(clients.id, series.clientId))
    .orderBy(asc(series.name)),
)

/** Those in use, as they are chosen from. */
export const seriesNames = ready((orm) =>
  orm
    .select({
      ...{ id: series.id, name: series.name, on: series.on },
      byEvents: sql<boolean>`${series.schedule} ->> 'kind' is 'after-event'`.mapWith(Boolean),
    })
    .from(series)
    .where(isNull(series.archivedAt))
    .orderBy(asc(series.name)),
)

/** The series that made something, if any did. */
export const seriesOfItem = {
  tasks: within((orm, a: { id: TaskId }) =>
    orm.select({ seriesId: tasks.seriesId }).from(tasks).where(eq(tasks.id, a.id)),
  ),
  projects: within((orm, a: { id: ProjectId }) =>
    orm.select({ seriesId: projects.seriesId }).from(projects).where(eq(projects.id, a.id)),
  ),
}

/** Series of a client that are not put away. */
export const seriesFor = ready((orm, a: { client: ClientId }) =>
  orm
    .select(row)
    .from(series)
    .leftJoin(clients, eq(clients.id, series.clientId))
    .where(and(eq(series.clientId, a.client), isNull(series.archivedAt)))
    .orderBy(asc(series.name)),
)

/** What is known of the work that was made for a date: whether it is there, and closed. */
const work = {
  task: {
    ...{ id: tasks.id, title: tasks.title, due: tasks.due, dueTime: tasks.dueTime },
    ...{ closedAt: tasks.closedAt, archivedAt: tasks.archivedAt, state: tasks.state },
  },
  project: {
    ...{ id: projects.id, name: projects.name, due: projects.anchor },
    ...{ closedAt: projects.closedAt, archivedAt: projects.archivedAt },
  },
}
const occurrence = getTableColumns(occurrences)
/** The same with how far it is: whether it is there, the last due in a project, the first missed. */
const workOn = (today: string) => ({
  ...work,
  there: sql<number>`(exists (select 1 from ${tasks} "own" where "own"."id" = ${occurrences.taskId})
    or exists (select 1 from ${projects} "own" where "own"."id" = ${occurrences.projectId}))`,
  project: {
    ...work.project,
    last: sql<string | null>`(select max("own"."due") from ${tasks} "own"
      where "own"."projectId" = ${projects.id} and "own"."archivedAt" is null)`,
    behind: sql<string | null>`(select min("own"."due") from ${tasks} "own"
      where "own"."projectId" = ${projects.id} and "own"."archivedAt" is null
      and "own"."closedAt" is null and "own"."due" < ${today})`,
  },
})
/** As many dates as are shown of a series: a year of weeks and more. */
const MOST_SHOWN = 100
/** What became of dates, with as much of the work as somebody sees. */
const dealtSeen = (orm: Orm, { sight, today }: { sight: Sight; today: string }) =>
  orm
    .select({ occurrence, ...workOn(today) })
    .from(occurrences)
    .leftJoin(
      projects,
      and(eq(projects.id, occurrences.projectId), seesProject(sight, occurrences.projectId)),
    )
    .leftJoin(tasks, and(eq(tasks.id, occurrences.taskId), seesTask(sight, occurrences.taskId)))

/** What became of the dates of a series lately, the newest first. */
export const madeBy = ready((orm, a: { id: SeriesId; sight: Sight; today: string }) =>
  dealtSeen(orm, a)
    .where(eq(occurrences.seriesId, a.id))
    .orderBy(desc(occurrences.scheduled))
    .limit(most(MOST_SHOWN)),
)
export type Dealt = Row<typeof madeBy>
export type Known = Row<typeof lastMade>

/** What became of the dates that fall on some days, of all series; what somebody sees of the work. */
interface Days {
  readonly first: string
  readonly after: string
  readonly today: string
}
export const dealtBetween = ready((orm, a: { [K in keyof Days]: Days[K] } & { sight: Sight }) =>
  dealtSeen(orm, a)
    .where(and(gte(occurrences.date, sql`${a.first}`), lt(occurrences.date, sql`${a.after}`)))
    .orderBy(asc(occurrences.date)),
)
/** One that a series dealt with, and its work, whoever sees it. */
const dealtOnes = (orm: Orm, some: SQL | undefined) =>
  orm
    .select({ occurrence, ...work })
    .from(occurrences)
    .leftJoin(projects, eq(projects.id, occurrences.projectId))
    .leftJoin(tasks, eq(tasks.id, occurrences.taskId))
    .where(some)
/** The one that a series dealt with last, of those it made or left out after a completion. */
export const lastDealt = within((orm, a: { id: SeriesId }) =>
  dealtOnes(orm, eq(occurrences.seriesId, a.id)).orderBy(desc(occurrences.id)).limit(most(1)),
)
/** The last one that a series made. */
export const lastMade = within((orm, a: { id: SeriesId }) =>
  dealtOnes(orm, and(eq(occurrences.seriesId, a.id), eq(occurrences.state, 'made')))
    .orderBy(desc(occurrences.id))
    .limit(most(1)),
)
/** Those that wait for the one before, in order. */
export const heldOf = within((orm, a: { id: SeriesId }) =>
  orm
    .select(occurrence)
    .from(occurrences)
    // Written out, so that the index of those that are held serves.
    .where(and(eq(occurrences.seriesId, a.id), sql`${occurrences.state} = 'held'`))
    .orderBy(asc(occurrences.scheduled)),
)
export type OccurrenceRecord = Row<typeof heldOf>
export const occurrenceAt = within((orm, a: { id: SeriesId; scheduled: string }) =>
  dealtOnes(
    orm,
    and(eq(occurrences.seriesId, a.id), eq(occurrences.scheduled, sql`${a.scheduled}`)),
  )
    .orderBy(desc(occurrences.id))
    .limit(most(1)),
)
/** What an event brought in a series, if it did already. */
export const broughtBy = within((orm, a: { id: SeriesId; event: string }) =>
  orm
    .select({ id: occurrences.id })
    .from(occurrences)
    .where(and(eq(occurrences.seriesId, a.id), eq(occurrences.event, sql`${a.event}`))),
)
/** What became of the dates of a series that were scheduled on a day or later. */
export const occurrencesFromOn = within((orm, a: { id: SeriesId; from: string }) =>
  orm
    .select(occurrence)
    .from(occurrences)
    .where(and(eq(occurrences.seriesId, a.id), gte(occurrences.scheduled, sql`${a.from}`))),
)
/** Whether a task or a project is there, whoever sees it. */
export const isThere = {
  tasks: within((orm, a: { id: TaskId }) =>
    orm.select({ id: tasks.id }).from(tasks).where(eq(tasks.id, a.id)),
  ),
  projects: within((orm, a: { id: ProjectId }) =>
    orm.select({ id: projects.id }).from(projects).where(eq(projects.id, a.id)),
  ),
}
/** Whether a series has something on a date already. */
export const takenOn = within((orm, a: { id: SeriesId; date: string }) =>
  orm
    .select({ scheduled: occurrences.scheduled })
    .from(occurrences)
    .where(and(eq(occurrences.seriesId, a.id), eq(occurrences.date, sql`${a.date}`))),
)
/** What a series has dealt with from a scheduled time on, or of what was decided by hand. */
export const settledOf = within((orm, a: { id: SeriesId; after: string }) =>
  orm
    .select({ scheduled: occurrences.scheduled })
    .from(occurrences)
    .where(
      and(
        eq(occurrences.seriesId, a.id),
        or(
          gte(occurrences.scheduled, sql`${a.after}`),
          inArray(
            occurrences.scheduled,
            orm
              .select({ scheduled: seriesDates.scheduled })
              .from(seriesDates)
              .where(eq(seriesDates.seriesId, a.id)),
          ),
        ),
      ),
    ),
)
export const byHandOf = within((orm, a: { id: SeriesId }) =>
  orm.select(getTableColumns(seriesDates)).from(seriesDates).where(eq(seriesDates.seriesId, a.id)),
)
export const dateByHand = within((orm, a: { id: SeriesId; scheduled: string }) =>
  orm
    .select(getTableColumns(seriesDates))
    .from(seriesDates)
    .where(and(eq(seriesDates.seriesId, a.id), eq(seriesDates.scheduled, sql`${a.scheduled}`))),
)
/** What was decided by hand, of all series. */
export const everyByHand = ready((orm) =>
  orm.select(getTableColumns(seriesDates)).from(seriesDates),
)
/** What series have dealt with ahead of how far they have come, and of what was decided by hand. */
export const everySettled = ready((orm) => {
  const columns = { seriesId: occurrences.seriesId, scheduled: occurrences.scheduled }
  const ahead = orm
    .select(columns)
    .from(series)
    .crossJoin(occurrences)
    .where(
      and(
        eq(occurrences.seriesId, series.id),
        gte(occurrences.scheduled, sql`coalesce(${series.reached}, '')`),
      ),
    )
  const decided = orm
    .select(columns)
    .from(seriesDates)
    .crossJoin(occurrences)
    .where(
      and(
        eq(occurrences.seriesId, seriesDates.seriesId),
        eq(occurrences.scheduled, seriesDates.scheduled),
      ),
    )
  return union(ahead, decided)
})
/** Of each series whose dates follow completions, the one it dealt with last. */
export const everyLastDealt = within((orm) =>
  orm
    .select({ occurrence, ...work })
    .from(series)
    .crossJoin(occurrences)
    .leftJoin(projects, eq(projects.id, occurrences.projectId))
    .leftJoin(tasks, eq(tasks.id, occurrences.taskId))
    .where(
      and(
        sql`${series.schedule} ->> 'kind' is not null`,
        // The newest alone, by the index that begins with the series.
        sql`${occurrences.id} = (select max("own"."id") from ${occurrences} "own"
          where "own"."seriesId" = ${series.id})`,
      ),
    ),
)
/** How many each of those dealt with that ends after so many. */
export const everyDealtCount = ready((orm) =>
  orm
    .select({ seriesId: occurrences.seriesId, count: count() })
    .from(series)
    .crossJoin(occurrences)
    .where(
      and(sql`${series.schedule} ->> 'count' is not null`, eq(occurrences.seriesId, series.id)),
    )
    .groupBy(occurrences.seriesId),
)
/** How often a series was to make something. */
export const dealtCount = within((orm, a: { id: SeriesId }) =>
  orm.select({ count: count() }).from(occurrences).where(eq(occurrences.seriesId, a.id)),
)
/** The newest project that a series made, of some. */
const projectMade = (orm: Orm, some: SQL | undefined) =>
  orm
    .select({
      ...{ id: projects.id, name: projects.name, leadId: projects.leadId },
      ...{ audience: projects.audience, teamId: projects.teamId },
      ...{ description: projects.description, archivedAt: projects.archivedAt },
      closedAt: projects.closedAt,
    })
    .from(occurrences)
    .innerJoin(projects, eq(projects.id, occurrences.projectId))
    .where(some)
    .orderBy(desc(occurrences.scheduled))
    .limit(most(1))
export const lastProject = within((orm, a: { id: SeriesId }) =>
  projectMade(orm, eq(occurrences.seriesId, a.id)),
)
/** The same of those for a client; null: for nobody. */
export const lastProjectFor = within((orm, a: { id: SeriesId; client: ClientId | null }) =>
  projectMade(orm, and(eq(occurrences.seriesId, a.id), sql`${projects.clientId} is ${a.client}`)),
)
export type ProjectBefore = Row<typeof lastProject>
/** Who is on the tasks of a project by their roles; whoever is on most of a role comes last. */
export const roleHolders = within((orm, a: { project: ProjectId }) =>
  orm
    .select({ role: sql<string>`${tasks.role}`, personId: taskAssignees.personId })
    .from(tasks)
    .innerJoin(taskAssignees, eq(taskAssignees.taskId, tasks.id))
    .innerJoin(people, eq(people.id, taskAssignees.personId))
    .where(
      and(
        eq(tasks.projectId, a.project),
        isNotNull(tasks.role),
        isNull(tasks.archivedAt),
        eq(people.active, true),
      ),
    )
    .groupBy(tasks.role, taskAssignees.personId)
    .orderBy(asc(count()), asc(max(tasks.due)), desc(taskAssignees.personId)),
)
/** How much is open in a project, whatever it is under. */
export const openCount = within((orm, a: { project: ProjectId }) =>
  orm
    .select({ count: count() })
    .from(tasks)
    .where(and(eq(tasks.projectId, a.project), isNull(tasks.archivedAt), isNull(tasks.closedAt))),
)
export const projectFiles = within((orm, a: { project: ProjectId }) =>
  orm
    .select(getTableColumns(attachments))
    .from(attachments)
    .where(eq(attachments.projectId, a.project)),
)
export const lastScheduled = ready((orm, a: { id: SeriesId }) =>
  orm
    .select({ scheduled: max(occurrences.scheduled) })
    .from(occurrences)
    .where(eq(occurrences.seriesId, a.id)),
)

/** Running series that give a person work by name. */
export const seriesOf = ready((orm, a: { person: PersonId }) =>
  orm
    .select(getTableColumns(series))
    .from(seriesPeople)
    .innerJoin(series, eq(series.id, seriesPeople.seriesId))
    .where(and(eq(seriesPeople.personId, a.person), eq(series.on, true), isNull(series.endedAt))),
)
export const peopleOf = within((orm, a: { id: SeriesId }) =>
  orm
    .select({ id: seriesPeople.id, personId: seriesPeople.personId })
    .from(seriesPeople)
    .where(eq(seriesPeople.seriesId, a.id)),
)

/** What became of the dates of a series after a scheduled time. */
export const statesAfter = within((orm, a: { id: SeriesId; after: string }) =>
  orm
    .select({ scheduled: occurrences.scheduled, state: occurrences.state })
    .from(occurrences)
    .where(and(eq(occurrences.seriesId, a.id), gt(occurrences.scheduled, sql`${a.after}`))),
)
export const countedStates = within((orm, a: { id: SeriesId }) =>
  orm
    .select({ state: occurrences.state, count: count() })
    .from(occurrences)
    .where(eq(occurrences.seriesId, a.id))
    .groupBy(occurrences.state),
)
/** As many nights as are kept. */
const NIGHTS = 60
/** The newest nights first. */
export const audits = ready((orm) =>
  orm
    .select({ at: seriesAudits.at, day: seriesAudits.day, found: seriesAudits.found })
    .from(seriesAudits)
    .orderBy(desc(seriesAudits.day))
    .limit(most(NIGHTS)),
)
export const oldAudits = within((orm) =>
  orm
    .select({ id: seriesAudits.id })
    .from(seriesAudits)
    .orderBy(desc(seriesAudits.day))
    .limit(most(NIGHTS))
    .offset(NIGHTS),
)
export const auditOn = within((orm, a: { day: IsoDate }) =>
  orm.select({ id: seriesAudits.id }).from(seriesAudits).where(eq(seriesAudits.day, a.day)),
)
