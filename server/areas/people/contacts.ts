import { and, eq, inArray, isNotNull, isNull, ne, sql } from 'drizzle-orm'
import type { ClientId, PersonId, ProjectId, TaskId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import { ready, within, type Reader } from '../../database/query.ts'
import { listed } from '../../database/sql.ts'
import { people, taskAssignees, tasks } from '../../database/tables/index.ts'
import type { Engine } from '../../engine/services.ts'
import { mayStructure, type Viewer } from '../../engine/viewer.ts'
import { clientById } from './queries.ts'

/** Contacts of clients: put on a task they read it, so that they belong on their own client's work. */

const contactsAmong = ready((orm, a: { ids: string; client: ClientId }) =>
  orm
    .select({ id: people.id, name: people.name, clientId: people.clientId })
    .from(people)
    .where(
      and(
        inArray(people.id, listed(a.ids)),
        eq(people.access, 'client'),
        isNotNull(people.clientId),
        ne(people.clientId, a.client),
      ),
    ),
)
/** Of some people, those who are contacts of another client than the one given. */
export const othersContacts = (
  reader: Reader,
  ids: readonly PersonId[],
  client: ClientId | null,
): { id: PersonId; name: string; clientId: ClientId | null }[] =>
  client === null || ids.length === 0
    ? []
    : contactsAmong.all(reader, { ids: JSON.stringify(ids), client })

/** Who is on tasks of a project that have no client of their own. */
const onTasksIn = within((orm, a: { project: ProjectId }) =>
  orm
    .selectDistinct({ id: taskAssignees.personId })
    .from(taskAssignees)
    .innerJoin(tasks, eq(tasks.id, taskAssignees.taskId))
    .where(and(eq(tasks.projectId, a.project), isNull(tasks.clientId))),
)
/** Who is on tasks anywhere below one that have no client of their own. */
const onTasksUnder = within((orm, a: { task: TaskId }) =>
  orm
    .selectDistinct({ id: taskAssignees.personId })
    .from(taskAssignees)
    .innerJoin(tasks, eq(tasks.id, taskAssignees.taskId))
    .where(
      sql`${tasks.id} in (with recursive "down"("id") as (
          select ${tasks.id} from ${tasks} where ${tasks.parentId} = ${a.task}
          union select "below"."id" from "down" join ${tasks} "below" on "below"."parentId" = "down"."id")
        select "id" from "down") and ${tasks.clientId} is null`,
    ),
)
export const peopleUnder = (reader: Reader, task: TaskId): PersonId[] =>
  onTasksUnder.all(reader, { task }).map(({ id }) => id)
export const peopleIn = (reader: Reader, project: ProjectId): PersonId[] =>
  onTasksIn.all(reader, { project }).map(({ id }) => id)

/**
 * People who are to be on work of a client are not contacts of another, unless a manager confirms
 * it. @throws Refusal `other-client`
 */
export function needOwnContacts(
  { reader }: Engine,
  viewer: Viewer,
  { ids, client, place }: { ids: readonly PersonId[]; client: ClientId | null; place: string },
): void {
  if (viewer.confirms) return
  const others = othersContacts(reader, ids, client)
  const [first] = others
  if (!first || client === null) return
  const clientOf = (id: ClientId | null) =>
    (id === null ? undefined : clientById.get(reader, { id })?.name) ?? 'another client'
  const them =
    others.length === 1
      ? `${first.name} is a contact of ${clientOf(first.clientId)}`
      : `${others.map(({ name }) => name).join(' and ')} are contacts of other clients`
  refuse(
    'other-client',
    `${them}, and would read this work of ${clientOf(client)}. ` +
      (mayStructure(viewer)
        ? 'Confirm it, or choose somebody else.'
        : 'Choose somebody else; only a manager may confirm it.'),
    place,
  )
}
