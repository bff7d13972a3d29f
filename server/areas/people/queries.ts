import { and, asc, eq, sql } from 'drizzle-orm'
import type { ClientId, PersonId, TeamId } from '#core/brands.ts'
import { most, ready, type Reader } from '../../database/query.ts'
import { held } from '../../database/sql.ts'
import { clients, people, teamMembers, teams } from '../../database/tables/index.ts'

export const personById = ready((orm, a: { id: PersonId }) =>
  orm
    .select({
      id: people.id,
      name: people.name,
      email: people.email,
      access: people.access,
      title: people.title,
      active: people.active,
      ways: people.ways,
      joined: held(sql`${people.passwordHash} is not null`),
    })
    .from(people)
    .where(eq(people.id, a.id)),
)
export const personName = (reader: Reader, id: PersonId): string | null =>
  personById.get(reader, { id })?.name ?? null
export const isActive = (reader: Reader, id: PersonId): boolean =>
  personById.get(reader, { id })?.active === true

export const everybody = ready((orm) =>
  orm
    .select({
      id: people.id,
      name: people.name,
      access: people.access,
      title: people.title,
      active: people.active,
      photo: people.photo,
    })
    .from(people)
    .orderBy(asc(people.name)),
)
export const allMembers = ready((orm) =>
  orm
    .select({ teamId: teamMembers.teamId, personId: teamMembers.personId })
    .from(teamMembers)
    .orderBy(asc(teamMembers.id)),
)
export const teamById = ready((orm, a: { id: TeamId }) =>
  orm.select().from(teams).where(eq(teams.id, a.id)),
)
export const activeMember = ready((orm, a: { team: TeamId }) =>
  orm
    .select({ id: people.id })
    .from(teamMembers)
    .innerJoin(people, and(eq(people.id, teamMembers.personId), eq(people.active, true)))
    .where(eq(teamMembers.teamId, a.team))
    .limit(most(1)),
)

const called = {
  ...{ id: clients.id, name: clients.name, short: clients.short, tier: clients.tier },
}
export const allClients = ready((orm) =>
  orm.select(called).from(clients).orderBy(asc(clients.name)),
)
export const clientById = ready((orm, a: { id: ClientId }) =>
  orm.select(called).from(clients).where(eq(clients.id, a.id)),
)
