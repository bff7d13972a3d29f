import { and, asc, eq, isNotNull } from 'drizzle-orm'
import { alias } from 'drizzle-orm/sqlite-core'
import type { ClientId } from '#core/brands.ts'
import { ready, within } from '../../database/query.ts'
import { caseless, held } from '../../database/sql.ts'
import { clientRoles, clients, people } from '../../database/tables/index.ts'

/** What is asked about clients. */

const lead = alias(people, 'lead')
/** A client whole, with who looks after it. */
export const wholeClient = ready((orm, a: { id: ClientId }) =>
  orm
    .select({ client: clients, lead: { id: lead.id, name: lead.name } })
    .from(clients)
    .leftJoin(lead, eq(lead.id, clients.leadId))
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
