import { and, asc, eq, inArray, isNull, ne, or, sql } from 'drizzle-orm'
import type { ClientId, PersonId, PhaseId, ProjectId, TaskId, TeamId } from '#core/brands.ts'
import { listed } from '../../database/sql.ts'
import { ready, within } from '../../database/query.ts'
import { seesProject, seesTask, seesWhole } from '../../database/sees.ts'
import type { Sight } from '../../database/sight.ts'
import {
  clients,
  people,
  phases,
  projects,
  shares,
  taskAssignees,
  tasks,
  teamMembers,
  teams,
} from '../../database/tables/index.ts'

/** What access is worked out from. */

const place = {
  id: projects.id,
  name: projects.name,
  audience: projects.audience,
  teamId: projects.teamId,
  leadId: projects.leadId,
  clientId: projects.clientId,
}
export const placeById = within((orm, a: { id: ProjectId }) =>
  orm.select(place).from(projects).where(eq(projects.id, a.id)),
)
/** Of some projects, those that are not for everybody inside. */
export const placesApart = within((orm, a: { ids: string }) =>
  orm
    .select({ id: projects.id, audience: projects.audience, teamId: projects.teamId })
    .from(projects)
    .where(and(inArray(projects.id, listed(a.ids)), ne(projects.audience, 'firm'))),
)
export const teamsWith = within((orm, a: { person: PersonId }) =>
  orm
    .select({ id: teamMembers.teamId })
    .from(teamMembers)
    .where(eq(teamMembers.personId, a.person)),
)
export const spotById = within((orm, a: { id: TaskId }) =>
  orm
    .select({
      title: tasks.title,
      projectId: tasks.projectId,
      phaseId: tasks.phaseId,
      clientId: tasks.clientId,
    })
    .from(tasks)
    .where(eq(tasks.id, a.id)),
)
export const membersOf = ready((orm, a: { team: TeamId }) =>
  orm
    .select({ id: teamMembers.personId })
    .from(teamMembers)
    .where(eq(teamMembers.teamId, a.team))
    .orderBy(asc(teamMembers.id)),
)
export const assigneesOf = within((orm, a: { id: TaskId }) =>
  orm
    .select({ id: taskAssignees.personId })
    .from(taskAssignees)
    .where(eq(taskAssignees.taskId, a.id)),
)

const share = { id: shares.id, personId: shares.personId, may: shares.may }
export const sharesOfProject = ready((orm, a: { id: ProjectId }) =>
  orm
    .select(share)
    .from(shares)
    .where(and(eq(shares.projectId, a.id), isNull(shares.phaseId))),
)
export const sharesOfPhase = ready((orm, a: { id: PhaseId }) =>
  orm.select(share).from(shares).where(eq(shares.phaseId, a.id)),
)
export const sharesOfClient = ready((orm, a: { id: ClientId }) =>
  orm.select(share).from(shares).where(eq(shares.clientId, a.id)),
)
/** All that hangs on a project or its phases, as it is listed with it. */
export const sharedIn = ready((orm, a: { id: ProjectId }) =>
  orm
    .select({
      ...share,
      phase: { id: phases.id, name: phases.name },
      person: { id: people.id, name: people.name },
      access: people.access,
    })
    .from(shares)
    .innerJoin(people, eq(people.id, shares.personId))
    .leftJoin(phases, eq(phases.id, shares.phaseId))
    .where(and(eq(shares.projectId, a.id), eq(people.active, true)))
    .orderBy(asc(people.name), asc(shares.id)),
)
export const sharedOfClient = ready((orm, a: { id: ClientId }) =>
  orm
    .select({
      ...share,
      person: { id: people.id, name: people.name },
      access: people.access,
    })
    .from(shares)
    .innerJoin(people, eq(people.id, shares.personId))
    .where(and(eq(shares.clientId, a.id), eq(people.active, true)))
    .orderBy(asc(people.name), asc(shares.id)),
)
export const shareById = within((orm, a: { id: number }) =>
  orm.select().from(shares).where(eq(shares.id, a.id)),
)
export const phaseHome = within((orm, a: { id: PhaseId }) =>
  orm
    .select({ name: phases.name, projectId: phases.projectId })
    .from(phases)
    .where(eq(phases.id, a.id)),
)
export const clientNamed = ready((orm, a: { id: ClientId }) =>
  orm.select({ id: clients.id, name: clients.name }).from(clients).where(eq(clients.id, a.id)),
)

/** Everybody who can come in. */
export const everyLooker = ready((orm) =>
  orm
    .select({
      id: people.id,
      name: people.name,
      access: people.access,
      title: people.title,
    })
    .from(people)
    .where(eq(people.active, true))
    .orderBy(asc(people.name)),
)

export const seesItsTask = ready((orm, a: { id: TaskId; sight: Sight }) =>
  orm
    .select({ id: tasks.id })
    .from(tasks)
    .where(and(eq(tasks.id, a.id), seesTask(a.sight, tasks.id))),
)
export const seesItsProject = ready((orm, a: { id: ProjectId; sight: Sight }) =>
  orm
    .select({ id: projects.id })
    .from(projects)
    .where(and(eq(projects.id, a.id), seesProject(a.sight, projects.id))),
)
export const seesAllOfProject = ready((orm, a: { id: ProjectId; sight: Sight }) =>
  orm
    .select({ id: projects.id })
    .from(projects)
    .where(and(eq(projects.id, a.id), seesWhole(a.sight, projects.id))),
)

/** The running projects that somebody sees, whole or in part. */
export const placesSeen = ready((orm, a: { sight: Sight }) =>
  orm
    .select(place)
    .from(projects)
    .where(
      and(
        isNull(projects.closedAt),
        isNull(projects.archivedAt),
        seesProject(a.sight, projects.id),
      ),
    )
    .orderBy(asc(projects.name)),
)
export const runningCount = within((orm) =>
  orm
    .select({ projects: sql<number>`count(*)` })
    .from(projects)
    .where(and(isNull(projects.closedAt), isNull(projects.archivedAt))),
)

/** Teams that somebody may know of: all but closed ones they are not in. */
export const teamsFor = ready((orm, a: { all: boolean; me: PersonId }) =>
  orm
    .select()
    .from(teams)
    .where(
      or(
        sql`${a.all}`,
        sql`${teams.kind} <> 'closed'`,
        sql`exists (select 1 from ${teamMembers} "own" where "own"."teamId" = ${teams.id}
          and "own"."personId" = ${a.me})`,
      ),
    )
    .orderBy(asc(teams.name)),
)
