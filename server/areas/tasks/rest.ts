import { eq, sql, type SQL, type SQLWrapper } from 'drizzle-orm'
import type { ProjectId, TaskId } from '#core/brands.ts'
import { within, type Reader } from '../../database/query.ts'
import { projects, tasks } from '../../database/tables/index.ts'

/**
 * What stands still: time brings nothing to what is finished or archived, nor to anything in it, nor
 * to what is in a project that is proposed or on hold. What a person does to it still counts.
 */

const over = (table: typeof tasks | typeof projects): SQL =>
  sql`(${table.closedAt} is not null or ${table.archivedAt} is not null)`

/** A project rests besides while it is proposed or on hold. */
const projectOver = sql`(${over(projects)} or ${projects.state} <> 'running')`

const projectRests = (projectId: SQLWrapper): SQL =>
  sql`exists (select 1 from ${projects} where ${projects.id} = ${projectId} and ${projectOver})`
/** Whether the project that a column names goes on, or there is none. */
export const goesOn = (projectId: SQLWrapper): SQL => sql`not ${projectRests(projectId)}`

/** A task and all that it stands under, from itself up. */
const upward = (id: SQLWrapper | number): SQL => sql`with recursive "up"("id") as (
  select ${id} union select "above"."parentId" from "up"
  join ${tasks} "above" on "above"."id" = "up"."id" where "above"."parentId" is not null)`

const resting = within((orm, a: { id: TaskId }) =>
  orm
    .select({ id: tasks.id })
    .from(tasks)
    .where(
      sql`${tasks.id} in (${upward(sql`${a.id}`)} select "id" from "up")
        and (${over(tasks)} or ${projectRests(tasks.projectId)})`,
    ),
)
/** Whether a task stands still: by itself, by its project, or by what it is a part of. */
export const rests = (reader: Reader, id: TaskId): boolean =>
  resting.get(reader, { id }) !== undefined

const restingProject = within((orm, a: { id: ProjectId }) =>
  orm
    .select({ id: projects.id })
    .from(projects)
    .where(sql`${eq(projects.id, a.id)} and ${projectOver}`),
)
export const projectAtRest = (reader: Reader, id: ProjectId): boolean =>
  restingProject.get(reader, { id }) !== undefined
