import { and, asc, count, desc, eq, isNotNull, sql } from 'drizzle-orm'
import { alias } from 'drizzle-orm/sqlite-core'
import type { ClientId, ClientStateId } from '#core/brands.ts'
import { most, ready, within } from '../../database/query.ts'
import { caseless, held } from '../../database/sql.ts'
import { tagColumns } from '../fields/queries.ts'
import {
  clientRoles,
  clients,
  clientStates,
  clientTags,
  clientValues,
  people,
  tags,
} from '../../database/tables/index.ts'

/** What is asked about clients. */

const lead = alias(people, 'lead')
const state = {
  ...{ id: clientStates.id, name: clientStates.name },
  ...{ colour: clientStates.colour, first: clientStates.first },
}
/** Where clients can stand, in the firm's order. */
export const everyState = ready((orm) =>
  orm.select(state).from(clientStates).orderBy(asc(clientStates.position), asc(clientStates.id)),
)
/** Where new clients begin. */
export const firstState = ready((orm) =>
  orm
    .select({ id: clientStates.id })
    .from(clientStates)
    .orderBy(desc(clientStates.first), asc(clientStates.position))
    .limit(most(1)),
)
/** How many clients stand in a state. */
export const standingIn = within((orm, a: { state: ClientStateId }) =>
  orm.select({ clients: count() }).from(clients).where(eq(clients.stateId, a.state)),
)
/** Clients as a list has them, by name. */
export const clientRows = ready((orm) =>
  orm
    .select({
      ...{ id: clients.id, name: clients.name, short: clients.short, tier: clients.tier },
      stateId: clients.stateId,
      lead: { id: lead.id, name: lead.name },
      tags: sql<number[]>`(select json_group_array(${clientTags.tagId}) from ${clientTags}
        where ${clientTags.clientId} = ${clients.id})`.mapWith(JSON.parse),
    })
    .from(clients)
    .leftJoin(lead, eq(lead.id, clients.leadId))
    .orderBy(asc(caseless(clients.name)), asc(clients.id)),
)
/** Every tag of every client, by name. */
export const everyTagging = ready((orm) =>
  orm
    .select({ clientId: clientTags.clientId, name: tags.name })
    .from(clientTags)
    .innerJoin(tags, eq(tags.id, clientTags.tagId))
    .orderBy(asc(caseless(tags.name))),
)
export const everyValue = ready((orm) =>
  orm
    .select({
      ...{ clientId: clientValues.clientId, fieldId: clientValues.fieldId },
      value: sql<string | number>`coalesce(${clientValues.text}, ${clientValues.number})`,
    })
    .from(clientValues),
)
export const tagsOf = within((orm, a: { client: ClientId }) =>
  orm
    .select({ ...tagColumns, taggingId: clientTags.id })
    .from(clientTags)
    .innerJoin(tags, eq(tags.id, clientTags.tagId))
    .where(eq(clientTags.clientId, a.client))
    .orderBy(asc(caseless(tags.name))),
)
/** A client whole, with who looks after it. */
export const wholeClient = ready((orm, a: { id: ClientId }) =>
  orm
    .select({ client: clients, lead: { id: lead.id, name: lead.name }, state })
    .from(clients)
    .leftJoin(lead, eq(lead.id, clients.leadId))
    .leftJoin(clientStates, eq(clientStates.id, clients.stateId))
    .where(eq(clients.id, a.id)),
)
export const everyClient = ready((orm) => orm.select().from(clients).orderBy(asc(clients.name)))
export const rolesOf = within((orm, a: { client: ClientId }) =>
  orm
    .select({
      ...{ id: clientRoles.id, role: clientRoles.role },
      ...{ personId: clientRoles.personId, name: people.name },
    })
    .from(clientRoles)
    .innerJoin(people, eq(people.id, clientRoles.personId))
    .where(eq(clientRoles.clientId, a.client))
    .orderBy(asc(caseless(clientRoles.role))),
)
export const everyUsual = ready((orm) =>
  orm
    .select({
      ...{ clientId: clientRoles.clientId, role: clientRoles.role },
      personId: clientRoles.personId,
    })
    .from(clientRoles),
)
const contact = {
  ...{ id: people.id, name: people.name, title: people.title, email: people.email },
  ...{ active: people.active, clientId: people.clientId },
  joined: held(isNotNull(people.passwordHash)),
}
export const contactsOf = ready((orm, a: { client: ClientId }) =>
  orm
    .select(contact)
    .from(people)
    .where(and(eq(people.clientId, a.client), eq(people.access, 'client')))
    .orderBy(asc(people.name)),
)
export const everyContact = ready((orm) =>
  orm
    .select(contact)
    .from(people)
    .where(and(isNotNull(people.clientId), eq(people.access, 'client')))
    .orderBy(asc(people.name)),
)
