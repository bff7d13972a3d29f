import { and, count, desc, eq, inArray, isNull, or, sql, type SQLWrapper } from 'drizzle-orm'
import { union } from 'drizzle-orm/sqlite-core'
import type { PersonId, StateId, TaskId } from '#core/brands.ts'
import { most, ready, within } from '../../database/query.ts'
import { seesProject, seesTask } from '../../database/sees.ts'
import type { Sight } from '../../database/sight.ts'
import { held, listed } from '../../database/sql.ts'
import {
  notices,
  people,
  projects,
  states,
  taskAssignees,
  taskFollowers,
  tasks,
} from '../../database/tables/index.ts'

/** What a notice is about was taken back since: there is nothing to go to. */
const gone = sql`(case ${notices.itemKind}
  when 'task' then not exists (select 1 from ${tasks} where ${tasks.id} = ${notices.itemId})
  when 'project' then not exists (select 1 from ${projects} where ${projects.id} = ${notices.itemId})
  else 0 end)`
/** What is about something that the person does not see any more is told no more. */
const seesIts = (sight: Sight) =>
  sql`(${sight.all} or ${gone} or case ${notices.itemKind}
    when 'task' then ${seesTask(sight, notices.itemId)}
    when 'project' then ${seesProject(sight, notices.itemId)} else 1 end)`
export const noticesOf = ready((orm, a: { person: PersonId; sight: Sight }) =>
  orm
    .select({
      id: notices.id,
      kind: notices.kind,
      body: notices.body,
      itemKind: notices.itemKind,
      itemId: notices.itemId,
      gone: held(gone),
      at: notices.at,
      readAt: notices.readAt,
    })
    .from(notices)
    .where(and(eq(notices.personId, a.person), seesIts(a.sight)))
    .orderBy(desc(notices.id))
    .limit(most(200)),
)
export const unreadOf = ready((orm, a: { person: PersonId; sight: Sight }) =>
  orm
    .select({ notices: count() })
    .from(notices)
    .where(and(eq(notices.personId, a.person), isNull(notices.readAt), seesIts(a.sight))),
)
export const unreadIds = ready((orm, a: { person: PersonId }) =>
  orm
    .select({ id: notices.id })
    .from(notices)
    .where(and(eq(notices.personId, a.person), isNull(notices.readAt))),
)
export const noticeOf = ready((orm, a: { id: number; person: PersonId }) =>
  orm
    .select()
    .from(notices)
    .where(and(eq(notices.id, a.id), eq(notices.personId, a.person))),
)

/** Followers of some tasks who are still here. */
export const activeFollowers = within((orm, a: { tasks: string }) =>
  orm
    .select({ taskId: taskFollowers.taskId, personId: taskFollowers.personId })
    .from(taskFollowers)
    .innerJoin(people, and(eq(people.id, taskFollowers.personId), eq(people.active, true)))
    .where(inArray(taskFollowers.taskId, listed(a.tasks))),
)
/** What some tasks are called, and whether they are closed. */
export const titlesOf = within((orm, a: { tasks: string }) =>
  orm
    .select({ id: tasks.id, title: tasks.title, closedAt: tasks.closedAt })
    .from(tasks)
    .where(inArray(tasks.id, listed(a.tasks))),
)
/** All who have to do with a task and are still here: on it, following it, or its maker. */
export const concernedWith = within((orm, a: { task: TaskId }) => {
  const on = orm
    .select({ id: taskAssignees.personId })
    .from(taskAssignees)
    .where(eq(taskAssignees.taskId, a.task))
  const following = orm
    .select({ id: taskFollowers.personId })
    .from(taskFollowers)
    .where(eq(taskFollowers.taskId, a.task))
  const maker = orm.select({ id: tasks.creatorId }).from(tasks).where(eq(tasks.id, a.task))
  return orm
    .select({ id: people.id })
    .from(people)
    .where(
      and(
        eq(people.active, true),
        or(inArray(people.id, on), inArray(people.id, following), inArray(people.id, maker)),
      ),
    )
})
/** Who gave some tasks, and is still here: whoever made them, and who leads their projects. */
export const giversOf = within((orm, a: { tasks: string }) => {
  const given = inArray(tasks.id, listed(a.tasks))
  const here = (person: SQLWrapper) => and(eq(people.id, person), eq(people.active, true))
  const made = orm
    .select({ taskId: tasks.id, personId: people.id })
    .from(tasks)
    .innerJoin(people, here(tasks.creatorId))
    .where(given)
  const led = orm
    .select({ taskId: tasks.id, personId: people.id })
    .from(tasks)
    .innerJoin(projects, eq(projects.id, tasks.projectId))
    .innerJoin(people, here(projects.leadId))
    .where(given)
  return union(made, led)
})
export const stateName = within((orm, a: { id: StateId }) =>
  orm.select({ name: states.name }).from(states).where(eq(states.id, a.id)),
)
