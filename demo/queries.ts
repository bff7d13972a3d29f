import { and, asc, eq, isNotNull, isNull, like, lt, lte, or, sql } from 'drizzle-orm'
import type { ClientId, IsoDate, ProjectId, TaskId } from '#core/brands.ts'
import type { State } from '#contract/words.ts'
import { most, within } from '#server/database/query.ts'
import {
  checklistItems,
  notices,
  outbox,
  projects,
  taskAssignees,
  tasks,
} from '#server/database/tables/index.ts'

/** What the demo asks of the firm it is making. */

const open = isNull(tasks.closedAt)

/** The open task of a title that is due first; of one client where that is given. */
export const openTask = within((orm, a: { title: string; client: ClientId | null }) =>
  orm
    .select({ id: tasks.id })
    .from(tasks)
    .leftJoin(projects, eq(projects.id, tasks.projectId))
    .where(
      and(
        eq(tasks.title, a.title),
        open,
        sql`(${a.client} is null or coalesce(${tasks.clientId}, ${projects.clientId}) = ${a.client})`,
      ),
    )
    .orderBy(asc(tasks.due))
    .limit(most(1)),
)
export const projectCalled = within((orm, a: { name: string }) =>
  orm.select({ id: projects.id }).from(projects).where(eq(projects.name, a.name)),
)
/** The running projects of a client, of calibration first. */
export const runningFor = within((orm, a: { client: ClientId }) =>
  orm
    .select({ id: projects.id })
    .from(projects)
    .where(and(eq(projects.clientId, a.client), isNull(projects.closedAt)))
    .orderBy(sql`${projects.name} not like '%calibration%'`, asc(projects.id)),
)
export const openProjects = within((orm) =>
  orm
    .select({ id: projects.id, name: projects.name, version: projects.version })
    .from(projects)
    .where(isNull(projects.closedAt)),
)
/** Projects that were finished first. */
export const oldestClosed = within((orm) =>
  orm
    .select({ id: projects.id })
    .from(projects)
    .where(isNotNull(projects.closedAt))
    .orderBy(asc(projects.closedAt))
    .limit(most(6)),
)
const openLike = (...patterns: string[]) =>
  and(open, or(...patterns.map((pattern) => like(tasks.title, pattern))))
const row = { id: tasks.id, projectId: tasks.projectId }
export const aboutRegisters = within((orm) =>
  orm.select(row).from(tasks).where(openLike('%register%')).limit(most(12)),
)
export const aboutMoney = within((orm) =>
  orm
    .select(row)
    .from(tasks)
    .where(openLike('%payment%', '%accruals%', '%fees%'))
    .orderBy(asc(tasks.id))
    .limit(most(14)),
)
export const aboutRecords = within((orm) =>
  orm
    .select(row)
    .from(tasks)
    .where(openLike('Ask %', 'Chase %', '%statements%'))
    .orderBy(asc(tasks.id))
    .limit(most(30)),
)
/** Open tasks that are due by a day, each with the first person on it. */
export const dueBy = within((orm, a: { day: IsoDate }) =>
  orm
    .select({
      id: tasks.id,
      due: tasks.due,
      state: tasks.state,
      person: sql<number | null>`(select ${taskAssignees.personId} from ${taskAssignees}
        where ${sql`${taskAssignees.taskId} = ${tasks.id}`} order by ${taskAssignees.id} limit 1)`,
    })
    .from(tasks)
    .where(and(open, isNotNull(tasks.due), lte(tasks.due, a.day)))
    .orderBy(asc(tasks.id)),
)
/** Open tasks of projects in a state, due within some days. */
export const dueWithin = within((orm, a: { state: State; from: IsoDate; to: IsoDate }) =>
  orm
    .select({ id: tasks.id })
    .from(tasks)
    .innerJoin(projects, eq(projects.id, tasks.projectId))
    .where(and(open, eq(tasks.state, a.state), sql`${tasks.due} between ${a.from} and ${a.to}`))
    .orderBy(asc(tasks.id)),
)
export const untickedOf = within((orm, a: { task: TaskId }) =>
  orm
    .select({ id: checklistItems.id })
    .from(checklistItems)
    .where(and(eq(checklistItems.taskId, a.task), eq(checklistItems.done, false))),
)
export const stillOpenIn = within((orm, a: { project: ProjectId }) =>
  orm
    .select({ id: tasks.id })
    .from(tasks)
    .where(and(eq(tasks.projectId, a.project), open))
    .limit(most(1)),
)
export const statesIn = within((orm, a: { project: ProjectId }) =>
  orm
    .select({ id: tasks.id, state: tasks.state })
    .from(tasks)
    .where(eq(tasks.projectId, a.project)),
)
export const waitingBefore = within((orm, a: { at: number }) =>
  orm
    .select({ id: outbox.id, createdAt: outbox.createdAt })
    .from(outbox)
    .where(and(eq(outbox.state, 'waiting'), lt(outbox.createdAt, a.at))),
)
export const noticesBefore = within((orm, a: { at: number }) =>
  orm.select({ id: notices.id, at: notices.at }).from(notices).where(lt(notices.at, a.at)),
)
