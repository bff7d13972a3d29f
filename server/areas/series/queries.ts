import { and, asc, desc, eq, getTableColumns, isNull, max } from 'drizzle-orm'
import type { ClientId, PersonId, SeriesId } from '#core/brands.ts'
import { most, ready, within, type Row } from '../../database/query.ts'
import { seesProject, seesTask } from '../../database/sees.ts'
import type { Sight } from '../../database/sight.ts'
import {
  clients,
  occurrences,
  projects,
  series,
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

/** Series of a client that are not put away. */
export const seriesFor = ready((orm, a: { client: ClientId }) =>
  orm
    .select(row)
    .from(series)
    .leftJoin(clients, eq(clients.id, series.clientId))
    .where(and(eq(series.clientId, a.client), isNull(series.archivedAt)))
    .orderBy(asc(series.name)),
)

/** What a series has made lately, the newest first. */
export const madeBy = ready((orm, a: { id: SeriesId; sight: Sight }) =>
  orm
    .select({
      scheduled: occurrences.scheduled,
      date: occurrences.date,
      at: occurrences.madeAt,
      project: { id: projects.id, name: projects.name },
      task: { id: tasks.id, title: tasks.title },
    })
    .from(occurrences)
    .leftJoin(
      projects,
      and(eq(projects.id, occurrences.projectId), seesProject(a.sight, occurrences.projectId)),
    )
    .leftJoin(tasks, and(eq(tasks.id, occurrences.taskId), seesTask(a.sight, occurrences.taskId)))
    .where(eq(occurrences.seriesId, a.id))
    .orderBy(desc(occurrences.scheduled))
    .limit(most(50)),
)
/** The project that a series made last. */
export const lastProject = within((orm, a: { id: SeriesId }) =>
  orm
    .select({ id: projects.id, audience: projects.audience, teamId: projects.teamId })
    .from(occurrences)
    .innerJoin(projects, eq(projects.id, occurrences.projectId))
    .where(eq(occurrences.seriesId, a.id))
    .orderBy(desc(occurrences.scheduled))
    .limit(most(1)),
)
export const lastMade = ready((orm, a: { id: SeriesId }) =>
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
