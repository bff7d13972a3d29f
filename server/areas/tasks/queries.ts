import {
  and,
  asc,
  count,
  eq,
  getTableColumns,
  gt,
  inArray,
  isNull,
  max,
  ne,
  or,
  sql,
  sum,
} from 'drizzle-orm'
import type { FieldId, PersonId, ProjectId, TaskId } from '#core/brands.ts'
import type { StateRow } from '#contract/fields.ts'
import { most, ready, within, type Row } from '../../database/query.ts'
import { goesOn } from './rest.ts'
import { seesTask } from '../../database/sees.ts'
import type { Sight } from '../../database/sight.ts'
import { listed } from '../../database/sql.ts'
import {
  attachments,
  checklistItems,
  comments,
  fieldValues,
  openAssignments,
  people,
  projects,
  taskAssignees,
  taskFollowers,
  tasks,
  taskTags,
} from '../../database/tables/index.ts'

/** What is asked about tasks beside their rows (rows.ts) and lists of them (outline.ts). */

/** What the sheet of a task shows beside its row. */
export const sheetOf = ready((orm, a: { id: TaskId; sight: Sight }) =>
  orm
    .select({
      description: tasks.description,
      datesFollow: tasks.datesFollow,
      stateFollows: tasks.stateFollows,
      mergedInto: tasks.mergedInto,
      creator: { id: people.id, name: people.name },
    })
    .from(tasks)
    .leftJoin(people, eq(people.id, tasks.creatorId))
    .where(and(eq(tasks.id, a.id), seesTask(a.sight, tasks.id))),
)
export const discussionOf = ready((orm, a: { id: TaskId; sight: Sight }) =>
  orm
    .select({
      id: comments.id,
      body: comments.body,
      at: comments.at,
      author: { id: people.id, name: people.name },
    })
    .from(comments)
    .leftJoin(people, eq(people.id, comments.authorId))
    .where(and(eq(comments.taskId, a.id), seesTask(a.sight, comments.taskId)))
    .orderBy(asc(comments.at), asc(comments.id)),
)
export const followersOf = ready((orm, a: { id: TaskId }) =>
  orm
    .select({ id: people.id, name: people.name })
    .from(taskFollowers)
    .innerJoin(people, eq(people.id, taskFollowers.personId))
    .where(eq(taskFollowers.taskId, a.id))
    .orderBy(asc(people.name)),
)
export const subtasksOf = ready((orm, a: { id: TaskId; sight: Sight }) =>
  orm
    .select({ id: tasks.id })
    .from(tasks)
    .where(and(eq(tasks.parentId, a.id), isNull(tasks.archivedAt), seesTask(a.sight, tasks.id)))
    .orderBy(asc(tasks.position), asc(tasks.id)),
)
/** A person's open work, by due; what has none last. */
export const openWorkOf = ready((orm, a: { person: PersonId; sight: Sight }) =>
  orm
    .select({ id: tasks.id })
    .from(openAssignments)
    .innerJoin(tasks, eq(tasks.id, openAssignments.taskId))
    .where(
      and(
        eq(openAssignments.personId, a.person),
        goesOn(tasks.projectId),
        seesTask(a.sight, tasks.id),
      ),
    )
    .orderBy(
      isNull(tasks.due),
      asc(tasks.due),
      isNull(tasks.dueTime),
      asc(tasks.dueTime),
      asc(tasks.position),
      asc(tasks.id),
    ),
)
/** The descriptions of some tasks: as much of them as a list does not show. */
export const descriptionOf = ready((orm, a: { id: TaskId; sight: Sight }) =>
  orm
    .select({ description: tasks.description })
    .from(tasks)
    .where(and(eq(tasks.id, a.id), seesTask(a.sight, tasks.id))),
)

/** A task with what its steps need of its project; read once and handed down. */
export const contextOf = within((orm, a: { id: TaskId }) =>
  orm
    .select({
      task: getTableColumns(tasks),
      project: {
        id: projects.id,
        leadId: projects.leadId,
        stateSetId: projects.stateSetId,
        templateId: projects.templateId,
        clientId: projects.clientId,
      },
    })
    .from(tasks)
    .leftJoin(projects, eq(projects.id, tasks.projectId))
    .where(eq(tasks.id, a.id)),
)
export type TaskContext = Row<typeof contextOf>
export type TaskRecord = TaskContext['task']

/** Which of some tasks are there to be seen. */
export const presentIn = ready((orm, a: { ids: string; sight: Sight }) =>
  orm
    .select({ id: tasks.id })
    .from(tasks)
    .where(and(inArray(tasks.id, listed(a.ids)), seesTask(a.sight, tasks.id))),
)
export const parentOf = within((orm, a: { id: TaskId }) =>
  orm.select({ parentId: tasks.parentId }).from(tasks).where(eq(tasks.id, a.id)),
)
/** How many tasks stand anywhere below one. */
export const belowTask = within((orm, a: { id: TaskId }) =>
  orm
    .select({ count: count() })
    .from(tasks)
    .where(
      sql`${tasks.id} in (with recursive "down"("id") as (
          select ${tasks.id} from ${tasks} where ${tasks.parentId} = ${a.id}
          union select "below"."id" from "down" join ${tasks} "below" on "below"."parentId" = "down"."id")
        select "id" from "down")`,
    ),
)
export const childrenOf = within((orm, a: { id: TaskId }) =>
  orm
    .select({
      id: tasks.id,
      start: tasks.start,
      due: tasks.due,
      state: tasks.state,
      archivedAt: tasks.archivedAt,
      closedAt: tasks.closedAt,
    })
    .from(tasks)
    .where(eq(tasks.parentId, a.id))
    .orderBy(asc(tasks.position), asc(tasks.id)),
)
export const assignmentsOf = within((orm, a: { id: TaskId }) =>
  orm
    .select({
      id: taskAssignees.id,
      personId: taskAssignees.personId,
      estimate: taskAssignees.estimate,
      doneAt: taskAssignees.doneAt,
    })
    .from(taskAssignees)
    .where(eq(taskAssignees.taskId, a.id))
    .orderBy(asc(taskAssignees.id)),
)
export const estimatesOf = within((orm, a: { id: TaskId }) =>
  orm
    .select({ sum: sum(taskAssignees.estimate).mapWith(Number) })
    .from(taskAssignees)
    .where(eq(taskAssignees.taskId, a.id)),
)
/** Assignees who are still here. */
export const activeAssignmentsOf = within((orm, a: { id: TaskId }) =>
  orm
    .select({ personId: taskAssignees.personId, estimate: taskAssignees.estimate })
    .from(taskAssignees)
    .innerJoin(people, and(eq(people.id, taskAssignees.personId), eq(people.active, true)))
    .where(eq(taskAssignees.taskId, a.id))
    .orderBy(asc(taskAssignees.id)),
)
export const followsOf = within((orm, a: { id: TaskId }) =>
  orm
    .select({ id: taskFollowers.id, personId: taskFollowers.personId })
    .from(taskFollowers)
    .where(eq(taskFollowers.taskId, a.id))
    .orderBy(asc(taskFollowers.id)),
)
export const taggingsOf = within((orm, a: { id: TaskId }) =>
  orm
    .select({ id: taskTags.id, tagId: taskTags.tagId })
    .from(taskTags)
    .where(eq(taskTags.taskId, a.id))
    .orderBy(asc(taskTags.id)),
)
/** Who is on any of some tasks, each once. */
export const assignedIn = within((orm, a: { ids: string }) =>
  orm
    .selectDistinct({ id: taskAssignees.personId })
    .from(taskAssignees)
    .where(inArray(taskAssignees.taskId, listed(a.ids))),
)
export const isFollowing = within((orm, a: { id: TaskId; person: PersonId }) =>
  orm
    .select({ id: taskFollowers.id })
    .from(taskFollowers)
    .where(and(eq(taskFollowers.taskId, a.id), eq(taskFollowers.personId, a.person))),
)
export const valuesOf = within((orm, a: { id: TaskId }) =>
  orm
    .select({ fieldId: fieldValues.fieldId, text: fieldValues.text, number: fieldValues.number })
    .from(fieldValues)
    .where(eq(fieldValues.taskId, a.id)),
)
export const valueOf = within((orm, a: { id: TaskId; field: FieldId }) =>
  orm
    .select()
    .from(fieldValues)
    .where(and(eq(fieldValues.taskId, a.id), eq(fieldValues.fieldId, a.field))),
)
export const itemsOf = within((orm, a: { id: TaskId }) =>
  orm
    .select({ id: checklistItems.id, title: checklistItems.title })
    .from(checklistItems)
    .where(eq(checklistItems.taskId, a.id))
    .orderBy(asc(checklistItems.position), asc(checklistItems.id)),
)
export const itemOf = within((orm, a: { id: number; task: TaskId }) =>
  orm
    .select()
    .from(checklistItems)
    .where(and(eq(checklistItems.id, a.id), eq(checklistItems.taskId, a.task))),
)
export const lastItemOf = within((orm, a: { id: TaskId }) =>
  orm
    .select({ position: max(checklistItems.position) })
    .from(checklistItems)
    .where(eq(checklistItems.taskId, a.id)),
)
export const commentOf = within((orm, a: { id: number; task: TaskId }) =>
  orm
    .select()
    .from(comments)
    .where(and(eq(comments.id, a.id), eq(comments.taskId, a.task))),
)
export const commentIdsOf = within((orm, a: { id: TaskId }) =>
  orm.select({ id: comments.id }).from(comments).where(eq(comments.taskId, a.id)),
)
export const attachmentsOn = within((orm, a: { id: TaskId }) =>
  orm.select().from(attachments).where(eq(attachments.taskId, a.id)),
)

/** The last place by hand in a project. */
export const lastPlaceIn = within((orm, a: { project: ProjectId }) =>
  orm
    .select({ position: max(tasks.position) })
    .from(tasks)
    .where(eq(tasks.projectId, a.project)),
)
export const placeOf = within((orm, a: { id: TaskId; project: ProjectId }) =>
  orm
    .select({ position: tasks.position })
    .from(tasks)
    .where(and(eq(tasks.id, a.id), eq(tasks.projectId, a.project))),
)
/** The task that stands next after a place, another one left out of account. */
export const nextPlaceIn = within(
  (orm, a: { project: ProjectId; position: number; id: TaskId; but: TaskId }) =>
    orm
      .select({ position: tasks.position })
      .from(tasks)
      .where(
        and(
          eq(tasks.projectId, a.project),
          ne(tasks.id, a.but),
          or(
            gt(tasks.position, a.position),
            and(eq(tasks.position, a.position), gt(tasks.id, a.id)),
          ),
        ),
      )
      .orderBy(asc(tasks.position), asc(tasks.id))
      .limit(most(1)),
)
export const placesIn = within((orm, a: { project: ProjectId }) =>
  orm
    .select({ id: tasks.id })
    .from(tasks)
    .where(eq(tasks.projectId, a.project))
    .orderBy(asc(tasks.position), asc(tasks.id)),
)
/** The latest due of a project: what its dates are counted from where it has no anchor. */
export const lastDueIn = within((orm, a: { project: ProjectId }) =>
  orm
    .select({ due: max(tasks.due) })
    .from(tasks)
    .where(eq(tasks.projectId, a.project)),
)
/** A project as its tasks need it. */
export const homeOf = within((orm, a: { id: ProjectId }) =>
  orm
    .select({
      id: projects.id,
      leadId: projects.leadId,
      stateSetId: projects.stateSetId,
      templateId: projects.templateId,
      clientId: projects.clientId,
    })
    .from(projects)
    .where(eq(projects.id, a.id)),
)
export type Home = Row<typeof homeOf> & {
  /** The states that its tasks stand in, where whoever makes many has read them. */
  readonly states?: readonly StateRow[]
}
