import {
  and,
  asc,
  count,
  desc,
  eq,
  gte,
  inArray,
  isNotNull,
  isNull,
  sql,
  type SQL,
} from 'drizzle-orm'
import { union } from 'drizzle-orm/sqlite-core'
import type { PersonId } from '#core/brands.ts'
import { most, ready, type Orm } from '../../database/query.ts'
import { seesProject, seesTask } from '../../database/sees.ts'
import type { Sight } from '../../database/sight.ts'
import { goesOn } from '../tasks/rest.ts'
import {
  journal,
  notices,
  openAssignments,
  openUnassigned,
  people,
  projects,
  taskAssignees,
  tasks,
} from '../../database/tables/index.ts'

// A cross join is SQLite's way to say which table a question begins at.

/** What is open and does not stand still with its project. */
const openTask = and(isNull(tasks.closedAt), isNull(tasks.archivedAt), goesOn(tasks.projectId))
/** When something last happened to a task itself. */
const touchedAt = sql<number>`coalesce((select max(${journal.at}) from ${journal} where ${journal.itemKind} = 'task'
  and ${journal.itemId} = ${tasks.id} and ${journal.entity} = 'tasks'), ${tasks.createdAt})`
const namesOn = sql<
  string | null
>`(select group_concat(${people.name}, ' and ') from ${taskAssignees}
  join ${people} on ${people.id} = ${taskAssignees.personId}
  where ${taskAssignees.taskId} = ${tasks.id})`

const inReview = {
  task: { id: tasks.id, title: tasks.title, version: tasks.version },
  at: touchedAt,
  who: namesOn,
}
// Written out, so that the indexes of what is in review serve.
const isInReview = sql`${tasks.state} = 'in-review' and ${tasks.closedAt} is null and ${tasks.archivedAt} is null
  and ${goesOn(tasks.projectId)}`
/** What is in review in the projects that a person leads. */
export const reviewsLed = ready((orm, a: { me: PersonId; sight: Sight }) =>
  orm
    .select(inReview)
    .from(projects)
    .crossJoin(tasks)
    .where(
      and(
        eq(tasks.projectId, projects.id),
        eq(projects.leadId, a.me),
        isInReview,
        seesTask(a.sight, tasks.id),
      ),
    )
    .orderBy(touchedAt)
    .limit(most(20)),
)
/** What a person made that is in review, where nobody leads. */
export const reviewsMade = ready((orm, a: { me: PersonId; sight: Sight }) =>
  orm
    .select(inReview)
    .from(tasks)
    .leftJoin(projects, eq(projects.id, tasks.projectId))
    .where(
      and(
        eq(tasks.creatorId, a.me),
        isInReview,
        isNull(projects.leadId),
        seesTask(a.sight, tasks.id),
      ),
    )
    .orderBy(touchedAt)
    .limit(most(20)),
)
/** Escalations that a person has not read, about what is still open. */
export const escalationsFor = ready((orm, a: { me: PersonId; sight: Sight }) =>
  orm
    .select({
      noticeId: notices.id,
      body: notices.body,
      at: notices.at,
      task: { id: tasks.id, title: tasks.title, version: tasks.version },
    })
    .from(notices)
    .innerJoin(tasks, and(eq(notices.itemKind, 'task'), eq(tasks.id, notices.itemId), openTask))
    .where(
      and(
        eq(notices.personId, a.me),
        eq(notices.kind, 'escalation'),
        isNull(notices.readAt),
        seesTask(a.sight, tasks.id),
      ),
    )
    .orderBy(desc(notices.id))
    .limit(most(20)),
)

/** As many loose ends of a kind as are listed. */
const FEW = 50
const row = { id: tasks.id, title: tasks.title }

/** What has no date, in the firm. */
export const undated = ready((orm, a: { sight: Sight }) =>
  orm
    .select(row)
    .from(tasks)
    .where(and(openTask, isNull(tasks.due), seesTask(a.sight, tasks.id)))
    .orderBy(asc(tasks.id))
    .limit(most(FEW)),
)
/** What has no date among what a person made, or is on. */
export const ownUndated = ready((orm, a: { me: PersonId; sight: Sight }) => {
  const made = orm
    .select({ id: tasks.id })
    .from(tasks)
    .where(and(eq(tasks.creatorId, a.me), isNull(tasks.closedAt)))
  const on = orm
    .select({ id: openAssignments.taskId })
    .from(openAssignments)
    .where(eq(openAssignments.personId, a.me))
  return orm
    .select(row)
    .from(tasks)
    .where(
      and(
        inArray(tasks.id, union(made, on)),
        openTask,
        isNull(tasks.due),
        seesTask(a.sight, tasks.id),
      ),
    )
    .orderBy(asc(tasks.id))
    .limit(most(FEW))
})
/** What nobody is on and no role was to fill, of all or of some. */
const nobodyOn = (orm: Orm, sight: Sight, some?: SQL) =>
  orm
    .select(row)
    .from(openUnassigned)
    .crossJoin(tasks)
    .where(
      and(
        eq(tasks.id, openUnassigned.id),
        some,
        isNull(openUnassigned.role),
        seesTask(sight, tasks.id),
      ),
    )
    .orderBy(asc(openUnassigned.id))
    .limit(most(FEW))
const madeBy = (me: PersonId) => eq(openUnassigned.creatorId, me)
export const ownerless = ready((orm, a: { sight: Sight }) => nobodyOn(orm, a.sight))
export const ownOwnerless = ready((orm, a: { me: PersonId; sight: Sight }) =>
  nobodyOn(orm, a.sight, madeBy(a.me)),
)

/** Roles that nobody fills, by project, of all or of some. */
const nobodyFills = (orm: Orm, sight: Sight, some?: SQL) =>
  orm
    .select({
      role: sql<string>`${openUnassigned.role}`,
      id: sql<number>`${openUnassigned.projectId}`,
      name: projects.name,
      tasks: count(),
    })
    .from(openUnassigned)
    .crossJoin(projects)
    .where(
      and(
        eq(projects.id, openUnassigned.projectId),
        some,
        isNotNull(openUnassigned.role),
        seesProject(sight, projects.id),
      ),
    )
    .groupBy(openUnassigned.projectId, openUnassigned.role)
    .orderBy(openUnassigned.projectId, openUnassigned.role)
    .limit(most(20))
export const unfilled = ready((orm, a: { sight: Sight }) => nobodyFills(orm, a.sight))
export const ownUnfilled = ready((orm, a: { me: PersonId; sight: Sight }) =>
  nobodyFills(orm, a.sight, madeBy(a.me)),
)

/** How many tasks of a person were done since a moment. */
export const doneSince = ready((orm, a: { me: PersonId; since: number; sight: Sight }) =>
  orm
    .select({ tasks: count() })
    .from(tasks)
    .crossJoin(taskAssignees)
    .where(
      and(
        eq(taskAssignees.taskId, tasks.id),
        eq(taskAssignees.personId, a.me),
        gte(tasks.closedAt, a.since),
        eq(tasks.state, 'done'),
        seesTask(a.sight, tasks.id),
      ),
    ),
)

/** The dated open work of a person, as load is reckoned. */
export const effortsOf = ready((orm, a: { me: PersonId; sight: Sight }) =>
  orm
    .select({
      due: tasks.due,
      start: tasks.start,
      minutes: sql<number>`coalesce(${tasks.estimate}, 0)`,
    })
    .from(openAssignments)
    .innerJoin(tasks, eq(tasks.id, openAssignments.taskId))
    .where(
      and(
        eq(openAssignments.personId, a.me),
        isNotNull(tasks.due),
        goesOn(tasks.projectId),
        seesTask(a.sight, tasks.id),
      ),
    ),
)
