import { eq, sql } from 'drizzle-orm'
import type { ClientId, ProjectId } from '#core/brands.ts'
import type { ClientFacts, ProjectFacts } from '#core/fields/facts.ts'
import { within, type Reader } from '../../database/query.ts'
import { objects } from '../../database/sql.ts'
import {
  clients,
  clientStates,
  clientTags,
  people,
  projects,
  tags,
  templates,
} from '../../database/tables/index.ts'
import { valuesOf } from '../fields/queries.ts'

/** What rules know of a project and of a client, asked through a task or by themselves. */

const who = { id: people.id, name: people.name, access: people.access }
const projectById = within((orm, a: { id: ProjectId }) =>
  orm
    .select({
      id: projects.id,
      name: projects.name,
      clientId: projects.clientId,
      state: projects.state,
      category: projects.category,
      anchor: projects.anchor,
      health: projects.health,
      createdAt: projects.createdAt,
      closedAt: projects.closedAt,
      lead: who,
      template: { id: templates.id, name: templates.name },
    })
    .from(projects)
    .leftJoin(people, eq(people.id, projects.leadId))
    .leftJoin(templates, eq(templates.id, projects.templateId))
    .where(eq(projects.id, a.id)),
)
const tagsOfClient = objects<{ id: number; name: string }>(
  { id: tags.id, name: tags.name },
  sql`from ${clientTags} join ${tags} on ${tags.id} = ${clientTags.tagId}
    where ${clientTags.clientId} = ${clients.id}`,
)
const clientById = within((orm, a: { id: ClientId }) =>
  orm
    .select({
      ...{ id: clients.id, name: clients.name, short: clients.short, tier: clients.tier },
      state: { id: clientStates.id, name: clientStates.name, colour: clientStates.colour },
      lead: who,
      tags: tagsOfClient,
    })
    .from(clients)
    .leftJoin(clientStates, eq(clientStates.id, clients.stateId))
    .leftJoin(people, eq(people.id, clients.leadId))
    .where(eq(clients.id, a.id)),
)

/** The firm's own fields of a project or a client, by number. */
function ownFields(reader: Reader, of: 'project' | 'client', id: number) {
  const held = valuesOf[of].all(reader, { id })
  return Object.fromEntries(
    held.flatMap(({ fieldId, text, number }) => {
      const value = text ?? number
      return value === null ? [] : [[fieldId, value]]
    }),
  )
}

export function clientFacts(reader: Reader, id: ClientId): ClientFacts | undefined {
  const row = clientById.get(reader, { id })
  return (
    row && {
      ...row,
      get fields() {
        return ownFields(reader, 'client', id)
      },
    }
  )
}
export function projectFacts(reader: Reader, id: ProjectId): ProjectFacts | undefined {
  const row = projectById.get(reader, { id })
  return (
    row && {
      ...row,
      get client() {
        return row.clientId === null ? null : (clientFacts(reader, row.clientId) ?? null)
      },
      get fields() {
        return ownFields(reader, 'project', id)
      },
    }
  )
}
