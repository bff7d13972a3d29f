import { and, asc, eq, isNull, or, sql } from 'drizzle-orm'
import type { ClientId, TaskId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import type { ClientPage } from '#contract/clients.ts'
import { within, type Reader } from '../../database/query.ts'
import {
  occurrences,
  people,
  projects,
  series,
  shares,
  tasks,
} from '../../database/tables/index.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Large } from '../../engine/portions.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, needStructure, type Viewer } from '../../engine/viewer.ts'
import { valuesOf } from '../fields/queries.ts'
import { clientPage, needClient } from './page.ts'
import { rolesOf, tagsOf } from './queries.ts'

/** Two clients that are one: all that is done for the one is done for the other. */

const projectsOf = within((orm, a: { client: ClientId }) =>
  orm
    .select({ id: projects.id, version: projects.version })
    .from(projects)
    .where(eq(projects.clientId, a.client)),
)
const tasksOf = within((orm, a: { client: ClientId }) =>
  orm
    .select({ id: tasks.id })
    .from(tasks)
    .where(eq(tasks.clientId, a.client))
    .orderBy(asc(tasks.id)),
)
const versionOf = within((orm, a: { task: TaskId; client: ClientId }) =>
  orm
    .select({ version: tasks.version })
    .from(tasks)
    .where(and(eq(tasks.id, a.task), eq(tasks.clientId, a.client))),
)
const seriesOf = within((orm, a: { client: ClientId }) =>
  orm
    .select({
      ...{ id: series.id, version: series.version, clientId: series.clientId },
      makes: series.makes,
    })
    .from(series)
    .where(
      or(
        eq(series.clientId, a.client),
        sql`json_extract(${series.makes}, '$.clientId') = ${a.client}`,
      ),
    ),
)
/** What events brought in series for it. */
const broughtFor = within((orm, a: { client: ClientId }) =>
  orm.select({ id: occurrences.id }).from(occurrences).where(eq(occurrences.clientId, a.client)),
)
const peopleOf = within((orm, a: { client: ClientId }) =>
  orm.select({ id: people.id }).from(people).where(eq(people.clientId, a.client)),
)
const sharesOf = within((orm, a: { client: ClientId }) =>
  orm
    .select({ id: shares.id, personId: shares.personId, may: shares.may })
    .from(shares)
    .where(and(eq(shares.clientId, a.client), isNull(shares.projectId))),
)

/** What one says is kept; what it leaves empty, the other says; their notes stand one after another. */
function filledIn(
  into: Readonly<Record<string, unknown>>,
  from: Readonly<Record<string, unknown>>,
): Record<string, unknown> {
  const empty = ['email', 'phone', 'website', 'address', 'leadId'].filter(
    (column) => !into[column] && from[column],
  )
  const notes = [into['notes'], from['notes']].filter(Boolean).join('\n\n')
  return {
    ...Object.fromEntries(empty.map((column) => [column, from[column]])),
    ...(notes !== into['notes'] && { notes }),
  }
}

/** What is said of one goes over to the other, where that has nothing of its kind yet. */
function giveParts(reader: Reader, write: Writer, client: ClientId, clientId: ClientId): void {
  const of = { client: clientId }
  const shared = new Set(sharesOf.all(reader, of).map(({ personId }) => personId))
  for (const { id, personId } of sharesOf.all(reader, { client }))
    if (shared.has(personId)) write.remove('shares', id)
    else write.update('shares', id, { clientId })
  const filled = new Set(rolesOf.all(reader, of).map(({ role }) => role))
  for (const { id, role } of rolesOf.all(reader, { client }))
    if (filled.has(role)) write.remove('clientRoles', id)
    else write.update('clientRoles', id, { clientId })
  const tagged = new Set(tagsOf.all(reader, of).map(({ id }) => id))
  for (const { id, taggingId } of tagsOf.all(reader, { client }))
    if (tagged.has(id)) write.remove('clientTags', taggingId)
    else write.update('clientTags', taggingId, { clientId })
  const said = new Set(valuesOf.client.all(reader, { id: clientId }).map((row) => row.fieldId))
  for (const { id, fieldId } of valuesOf.client.all(reader, { id: client }))
    if (said.has(fieldId)) write.remove('clientValues', id)
    else write.update('clientValues', id, { clientId })
}

/**
 * Puts one client into another: projects, tasks, series, contacts, shares, usual people, tags and
 * fields go over, what the other does not say is taken from it, and it is gone; one undo.
 * @throws Refusal `not-found`, `forbidden`, `same`
 */
export function mergeClient(
  engine: Engine,
  viewer: Viewer,
  id: ClientId,
  into: ClientId,
): Large<ClientPage> {
  needStructure(viewer, 'merge clients')
  const { client: from } = needClient(engine, id)
  const { client: other } = needClient(engine, into)
  if (id === into) refuse('same', 'That is the same client; choose another.', 'into')
  const { reader, journal } = engine
  const clientId = into
  return journal.large({
    actor: actorOf(viewer),
    size: tasksOf.all(reader, { client: id }).length + 10,
    *work(write) {
      const give = (task: TaskId) => {
        const now = versionOf.get(reader, { task, client: id })
        if (now) write.update('tasks', task, { clientId, version: now.version + 1 })
      }
      for (const { id: task } of tasksOf.all(reader, { client: id })) {
        give(task)
        yield
      }
      // From here on nobody writes in between; what was made for it meanwhile goes over too.
      for (const { id: task } of tasksOf.all(reader, { client: id })) give(task)
      for (const row of projectsOf.all(reader, { client: id }))
        write.update('projects', row.id, { clientId, version: row.version + 1 })
      for (const row of seriesOf.all(reader, { client: id }))
        write.update('series', row.id, {
          clientId: row.clientId === id ? clientId : row.clientId,
          makes: {
            ...row.makes,
            clientId: row.makes.clientId === id ? clientId : row.makes.clientId,
          },
          version: row.version + 1,
        })
      for (const row of broughtFor.all(reader, { client: id }))
        write.update('occurrences', row.id, { clientId })
      for (const row of peopleOf.all(reader, { client: id }))
        write.update('people', row.id, { clientId })
      giveParts(reader, write, id, into)
      write.update('clients', into, filledIn(other, from))
      write.remove('clients', id)
      return clientPage(engine, viewer, into)
    },
  })
}
