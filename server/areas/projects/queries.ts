import { and, asc, desc, eq, inArray, isNotNull, isNull, max, or, sql, type SQL } from 'drizzle-orm'
import { alias, type SQLiteColumn } from 'drizzle-orm/sqlite-core'
import type { ClientId, IsoDate, LocalTime, PhaseId, ProjectId } from '#core/brands.ts'
import { most, ready, within, type Orm, type Row } from '../../database/query.ts'
import { seesProject, seesTask, seesWhole } from '../../database/sees.ts'
import type { Sight } from '../../database/sight.ts'
import { caseless, held, like, listed } from '../../database/sql.ts'
import {
  attachments,
  clients,
  milestones,
  people,
  phases,
  posts,
  projects,
  series,
  tasks,
  templates,
} from '../../database/tables/index.ts'
import { lateIn } from '../tasks/late.ts'

/** Minutes that a task without an estimate counts for. */
const UNESTIMATED = 30
const under = alias(tasks, 'under')
/** The effort of a task that counts: not dropped, not archived; subtasks do, their parents do not. */
const effort = sql`case when ${tasks.state} = 'dropped' or ${tasks.archivedAt} is not null or exists
  (select 1 from ${tasks} "under" where ${under.parentId} = ${tasks.id} and ${under.archivedAt} is null)
  then 0 else coalesce(${tasks.estimate}, ${sql.raw(String(UNESTIMATED))}) end`
/** What projects and phases count of their tasks. */
const counts = (now: { date: IsoDate; time: LocalTime }) => {
  const late = lateIn(now)
  return {
    open: sql<number>`count(${tasks.id}) filter (where ${tasks.closedAt} is null)`,
    done: sql<number>`count(${tasks.id}) filter (where ${tasks.closedAt} is not null)`,
    late: sql<number>`count(${tasks.id}) filter (where ${late})`,
    effort: sql<number>`coalesce(sum(${effort}), 0)`,
    effortDone: sql<number>`coalesce(sum(${effort}) filter (where ${tasks.state} = 'done'), 0)`,
  }
}

/** Projects with how they stand, by what their tasks say. */
export const projectRows = ready(
  (orm, a: { ids: string; sight: Sight; date: IsoDate; time: LocalTime }) =>
    orm
      .select({
        id: projects.id,
        name: projects.name,
        anchor: projects.anchor,
        anchorIs: sql<
          'start' | 'deadline'
        >`coalesce(json_extract(${templates.definition}, '$.anchor'), 'deadline')`,
        closedAt: projects.closedAt,
        archivedAt: projects.archivedAt,
        ...{ state: projects.state, heldOn: projects.heldOn, category: projects.category },
        health: projects.health,
        healthReason: projects.healthReason,
        audience: projects.audience,
        client: { id: clients.id, name: clients.name, short: clients.short },
        lead: { id: people.id, name: people.name },
        template: { id: templates.id, name: templates.name },
        templateVersion: projects.templateVersion,
        series: { id: series.id, name: series.name },
        whole: held(seesWhole(a.sight, projects.id)),
        ...counts(a),
        nextDue: sql<IsoDate | null>`min(${tasks.due}) filter (where ${tasks.closedAt} is null)`,
        oldestDue: sql<IsoDate | null>`min(${tasks.due}) filter (where ${lateIn(a)})`,
        missed: sql<
          string | null
        >`(select ${milestones.name} from ${milestones} where ${milestones.projectId} = ${projects.id}
          and ${milestones.doneAt} is null and ${milestones.date} < ${a.date}
          and ${seesWhole(a.sight, projects.id)} order by ${milestones.date} limit 1)`,
      })
      .from(projects)
      .leftJoin(
        tasks,
        and(
          eq(tasks.projectId, projects.id),
          isNull(tasks.archivedAt),
          or(seesWhole(a.sight, projects.id), seesTask(a.sight, tasks.id)),
        ),
      )
      .leftJoin(clients, eq(clients.id, projects.clientId))
      .leftJoin(people, eq(people.id, projects.leadId))
      .leftJoin(templates, eq(templates.id, projects.templateId))
      .leftJoin(series, eq(series.id, projects.seriesId))
      .where(and(inArray(projects.id, listed(a.ids)), seesProject(a.sight, projects.id)))
      .groupBy(projects.id),
)
export type ProjectRecord = Row<typeof projectRows>

export const runningProjects = ready((orm, a: { sight: Sight }) =>
  orm
    .select({ id: projects.id })
    .from(projects)
    .where(
      and(
        isNull(projects.closedAt),
        isNull(projects.archivedAt),
        seesProject(a.sight, projects.id),
      ),
    ),
)

export const runningFor = ready((orm, a: { client: ClientId; sight: Sight }) =>
  orm
    .select({ id: projects.id })
    .from(projects)
    .where(
      and(
        ...[eq(projects.clientId, a.client), isNull(projects.closedAt)],
        ...[isNull(projects.archivedAt), seesProject(a.sight, projects.id)],
      ),
    ),
)

/** As many closed projects as one page holds, and one more. */
export const PAGE = 50
interface Closed {
  sight: Sight
  before: number
  beforeId: number
  pattern: string
}
const matching = (a: Closed) =>
  or(like(projects.name, sql`${a.pattern}`), like(clients.name, sql`${a.pattern}`))
/** Projects that are over, newest first by when they came to be so, after a place in that order. */
const over = (orm: Orm, a: Closed, at: SQLiteColumn, part?: SQL) =>
  orm
    .select({ id: projects.id, at: sql<number>`${at}` })
    .from(projects)
    .leftJoin(clients, eq(clients.id, projects.clientId))
    .where(
      and(
        isNotNull(at),
        part,
        sql`(${at}, ${projects.id}) < (${a.before}, ${a.beforeId})`,
        matching(a),
        seesProject(a.sight, projects.id),
      ),
    )
    .orderBy(desc(at), desc(projects.id))
    .limit(most(PAGE + 1))
export const finishedProjects = ready((orm, a: { [K in keyof Closed]: Closed[K] }) =>
  over(orm, a, projects.closedAt, isNull(projects.archivedAt)),
)
export const archivedProjects = ready((orm, a: { [K in keyof Closed]: Closed[K] }) =>
  over(orm, a, projects.archivedAt),
)

/** Running projects as pickers offer them. */
export const projectChoices = ready((orm, a: { sight: Sight }) =>
  orm
    .select({
      id: projects.id,
      name: projects.name,
      clientId: projects.clientId,
      stateSetId: sql<number>`coalesce(${projects.stateSetId}, 1)`,
      templateId: projects.templateId,
    })
    .from(projects)
    .where(
      and(
        isNull(projects.closedAt),
        isNull(projects.archivedAt),
        seesProject(a.sight, projects.id),
      ),
    )
    .orderBy(asc(projects.name)),
)

/** A project itself, to be changed or copied. */
export const projectById = within((orm, a: { id: ProjectId }) =>
  orm.select().from(projects).where(eq(projects.id, a.id)),
)

export const phasesIn = ready(
  (orm, a: { project: ProjectId; date: IsoDate; time: LocalTime; sight: Sight }) =>
    orm
      .select({ id: phases.id, name: phases.name, ...counts(a) })
      .from(phases)
      .leftJoin(
        tasks,
        and(
          eq(tasks.phaseId, phases.id),
          isNull(tasks.archivedAt),
          or(seesWhole(a.sight, phases.projectId), seesTask(a.sight, tasks.id)),
        ),
      )
      .where(and(eq(phases.projectId, a.project), seesProject(a.sight, phases.projectId)))
      .groupBy(phases.id)
      .orderBy(asc(phases.position), asc(phases.id)),
)
export const milestonesIn = ready((orm, a: { project: ProjectId; sight: Sight }) =>
  orm
    .select({
      id: milestones.id,
      name: milestones.name,
      date: milestones.date,
      doneAt: milestones.doneAt,
      owner: { id: people.id, name: people.name },
    })
    .from(milestones)
    .leftJoin(people, eq(people.id, milestones.ownerId))
    .where(and(eq(milestones.projectId, a.project), seesWhole(a.sight, milestones.projectId)))
    .orderBy(isNull(milestones.date), asc(milestones.date), asc(milestones.id)),
)
export const postsIn = ready((orm, a: { project: ProjectId; sight: Sight }) =>
  orm
    .select({
      id: posts.id,
      health: posts.health,
      body: posts.body,
      at: posts.at,
      author: { id: people.id, name: people.name },
    })
    .from(posts)
    .leftJoin(people, eq(people.id, posts.authorId))
    .where(and(eq(posts.projectId, a.project), seesWhole(a.sight, posts.projectId)))
    .orderBy(desc(posts.at), desc(posts.id))
    .limit(most(200)),
)

const phaseChoice = { id: phases.id, projectId: phases.projectId, name: phases.name }
/** The phases of one project, to choose from. */
export const phaseChoicesIn = ready((orm, a: { project: ProjectId; sight: Sight }) =>
  orm
    .select(phaseChoice)
    .from(phases)
    .where(and(eq(phases.projectId, a.project), seesProject(a.sight, phases.projectId)))
    .orderBy(asc(phases.position)),
)
/** The phases of all running projects, to choose from. */
export const phaseChoices = ready((orm, a: { sight: Sight }) =>
  orm
    .select(phaseChoice)
    .from(projects)
    .innerJoin(phases, eq(phases.projectId, projects.id))
    .where(
      and(
        isNull(projects.closedAt),
        isNull(projects.archivedAt),
        seesProject(a.sight, projects.id),
      ),
    )
    .orderBy(asc(phases.projectId), asc(phases.position)),
)
export const phaseById = within((orm, a: { id: PhaseId }) =>
  orm.select().from(phases).where(eq(phases.id, a.id)),
)
export const phaseRows = within((orm, a: { project: ProjectId }) =>
  orm
    .select()
    .from(phases)
    .where(eq(phases.projectId, a.project))
    .orderBy(asc(phases.position), asc(phases.id)),
)
export const phaseCalled = within((orm, a: { project: ProjectId; name: string }) =>
  orm
    .select({ id: phases.id })
    .from(phases)
    .where(and(eq(phases.projectId, a.project), eq(caseless(phases.name), sql`${a.name}`))),
)
export const lastPhasePlace = within((orm, a: { project: ProjectId }) =>
  orm
    .select({ position: max(phases.position) })
    .from(phases)
    .where(eq(phases.projectId, a.project)),
)
export const tasksInPhase = within((orm, a: { id: PhaseId }) =>
  orm.select({ id: tasks.id }).from(tasks).where(eq(tasks.phaseId, a.id)),
)
/** Tasks of a project that stand under none of its own, in their order. */
export const topTasksIn = within((orm, a: { project: ProjectId }) => {
  const up = alias(tasks, 'up')
  return orm
    .select({ id: tasks.id, phaseId: tasks.phaseId, closedAt: tasks.closedAt })
    .from(tasks)
    .leftJoin(up, and(eq(up.id, tasks.parentId), eq(up.projectId, tasks.projectId)))
    .where(and(eq(tasks.projectId, a.project), isNull(tasks.archivedAt), isNull(up.id)))
    .orderBy(asc(tasks.position), asc(tasks.id))
})
export const tasksIn = within((orm, a: { project: ProjectId }) =>
  orm
    .select({ id: tasks.id })
    .from(tasks)
    .where(eq(tasks.projectId, a.project))
    .orderBy(asc(tasks.id)),
)
export const milestoneRows = within((orm, a: { project: ProjectId }) =>
  orm.select().from(milestones).where(eq(milestones.projectId, a.project)),
)
export const milestoneOf = within((orm, a: { project: ProjectId; id: number }) =>
  orm
    .select()
    .from(milestones)
    .where(and(eq(milestones.id, a.id), eq(milestones.projectId, a.project))),
)
export const postOf = within((orm, a: { project: ProjectId; id: number }) =>
  orm
    .select()
    .from(posts)
    .where(and(eq(posts.id, a.id), eq(posts.projectId, a.project))),
)
export const postIds = within((orm, a: { project: ProjectId }) =>
  orm.select({ id: posts.id }).from(posts).where(eq(posts.projectId, a.project)),
)
export const attachmentIds = within((orm, a: { project: ProjectId }) =>
  orm.select({ id: attachments.id }).from(attachments).where(eq(attachments.projectId, a.project)),
)
