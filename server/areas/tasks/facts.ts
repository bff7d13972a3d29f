import { eq } from 'drizzle-orm'
import type { TaskId } from '#core/brands.ts'
import type { TaskFacts } from '#core/fields/facts.ts'
import { within } from '../../database/query.ts'
import { people, taskAssignees, taskFollowers, tasks } from '../../database/tables/index.ts'
import type { Engine } from '../../engine/services.ts'
import { clientFacts, projectFacts } from './place-facts.ts'
import { rowFor } from './rows.ts'

/** What rules know of a task: its row, and what of its surroundings is asked for. */

/** What a row does not carry, by one question. */
const surroundings = within((orm, a: { id: TaskId }) =>
  orm
    .select({
      description: tasks.description,
      creator: { id: people.id, name: people.name, access: people.access },
    })
    .from(tasks)
    .leftJoin(people, eq(people.id, tasks.creatorId))
    .where(eq(tasks.id, a.id)),
)
const assigned = within((orm, a: { id: TaskId }) =>
  orm
    .select({ id: people.id, name: people.name, access: people.access })
    .from(taskAssignees)
    .innerJoin(people, eq(people.id, taskAssignees.personId))
    .where(eq(taskAssignees.taskId, a.id)),
)
const followers = within((orm, a: { id: TaskId }) =>
  orm
    .select({ id: people.id, name: people.name, access: people.access })
    .from(taskFollowers)
    .innerJoin(people, eq(people.id, taskFollowers.personId))
    .where(eq(taskFollowers.taskId, a.id)),
)

/** Asked once, and only if somebody asks. */
function once<T>(ask: () => T): () => T {
  let found: { readonly value: T } | null = null
  return () => (found ??= { value: ask() }).value
}

/**
 * What a rule knows of a task; undefined for one that is gone. Its surroundings are read when
 * something first asks for them.
 */
export function factsOf(
  engine: Engine,
  id: TaskId,
  was: TaskFacts['was'] = {},
): TaskFacts | undefined {
  const row = rowFor(engine, id)
  if (!row) return undefined
  const { reader } = engine
  const more = once(() => surroundings.get(reader, { id }))
  const following = once(() => followers.all(reader, { id }))
  const assignees = once(() => assigned.all(reader, { id }))
  const project = once(() => (row.project && projectFacts(reader, row.project.id)) ?? null)
  const client = once(() => (row.client && clientFacts(reader, row.client.id)) ?? null)
  return {
    ...row,
    was,
    get description() {
      return more()?.description ?? ''
    },
    get creator() {
      return more()?.creator ?? null
    },
    get followers() {
      return following()
    },
    get assignees() {
      return assignees()
    },
    get client() {
      return client()
    },
    get project() {
      return project()
    },
  }
}
