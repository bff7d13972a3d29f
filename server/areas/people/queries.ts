import { and, asc, eq, sql } from 'drizzle-orm'
import type { ClientId, PersonId, TeamId } from '#core/brands.ts'
import type { Filling } from '#contract/clockwork.ts'
import { most, ready, within, type Reader } from '../../database/query.ts'
import { held } from '../../database/sql.ts'
import {
  clients,
  openAssignments,
  people,
  tasks,
  teamMembers,
  teams,
} from '../../database/tables/index.ts'

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

/** Minutes of a task that nobody has estimated, when work is weighed. */
const UNESTIMATED = 30
const leastLoadedOf = within((orm, a: { team: TeamId }) => {
  const load = sql`(select coalesce(sum(coalesce(${tasks.estimate}, ${sql.raw(String(UNESTIMATED))})), 0)
    from ${openAssignments} join ${tasks} on ${tasks.id} = ${openAssignments.taskId}
    where ${openAssignments.personId} = ${teamMembers.personId})`
  return orm
    .select({ id: people.id })
    .from(teamMembers)
    .innerJoin(people, and(eq(people.id, teamMembers.personId), eq(people.active, true)))
    .where(eq(teamMembers.teamId, a.team))
    .orderBy(load, asc(teamMembers.personId))
    .limit(most(1))
})
/**
 * The active member of a team with the least open estimated work (30 minutes where none is
 * estimated); null for an empty team.
 */
export const leastLoaded = (reader: Reader, team: TeamId): PersonId | null =>
  leastLoadedOf.get(reader, { team })?.id ?? null

/** The person a filling stands for, or null when there is nobody active behind it. */
export function fill(reader: Reader, filling: Filling | undefined): PersonId | null {
  if (!filling) return null
  if ('team' in filling) return leastLoaded(reader, filling.team)
  return isActive(reader, filling.person) ? filling.person : null
}
