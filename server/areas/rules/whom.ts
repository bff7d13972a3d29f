import { and, asc, eq } from 'drizzle-orm'
import { alias } from 'drizzle-orm/sqlite-core'
import type { ClientId, IsoDate, PersonId, ProjectId, TaskId, TeamId } from '#core/brands.ts'
import type { About } from '#contract/actions/action.ts'
import type { Who } from '#contract/rules.ts'
import { within } from '../../database/query.ts'
import { caseless } from '../../database/sql.ts'
import {
  clientRoles,
  clients,
  people,
  projects,
  taskAssignees,
  taskFollowers,
  tasks,
} from '../../database/tables/index.ts'
import type { Engine } from '../../engine/services.ts'
import { personById } from '../people/queries.ts'
import { leastLoaded, nextInTurn, teamOf, type Chosen } from '../people/team.ts'

/** Whom an action of a rule is about, as people. */

/** What an action finds people by. */
export interface Around {
  readonly about: { readonly kind: About; readonly id: number }
  readonly project: ProjectId | null
  readonly client: ClientId | null
  /** Of the rule. */
  readonly owner: PersonId | null
  /** The day that it is about. */
  readonly day: IsoDate
  /** Who of a team was last to take their turn; says who is now. */
  readonly turns: {
    last(team: TeamId): PersonId | null
    now(team: TeamId, person: PersonId): void
  }
}
type Found = readonly (PersonId | null)[]

const manager = alias(people, 'manager')
const assigneesOf = within((orm, a: { task: TaskId }) =>
  orm
    .select({ id: taskAssignees.personId, managerId: people.managerId, above: manager.managerId })
    .from(taskAssignees)
    .innerJoin(people, eq(people.id, taskAssignees.personId))
    .leftJoin(manager, eq(manager.id, people.managerId))
    .where(eq(taskAssignees.taskId, a.task))
    .orderBy(asc(taskAssignees.id)),
)
const followersOf = within((orm, a: { task: TaskId }) =>
  orm
    .select({ id: taskFollowers.personId })
    .from(taskFollowers)
    .where(eq(taskFollowers.taskId, a.task))
    .orderBy(asc(taskFollowers.id)),
)
const creatorOf = within((orm, a: { task: TaskId }) =>
  orm.select({ id: tasks.creatorId }).from(tasks).where(eq(tasks.id, a.task)),
)
const leadOf = within((orm, a: { project: ProjectId }) =>
  orm.select({ id: projects.leadId }).from(projects).where(eq(projects.id, a.project)),
)
const clientLeadOf = within((orm, a: { client: ClientId }) =>
  orm.select({ id: clients.leadId }).from(clients).where(eq(clients.id, a.client)),
)
/** Roles and titles are the same in whatever letters. */
const usuallyIs = within((orm, a: { client: ClientId; role: string }) =>
  orm
    .select({ id: clientRoles.personId })
    .from(clientRoles)
    .where(and(eq(clientRoles.clientId, a.client), eq(caseless(clientRoles.role), a.role))),
)
const contactsOf = within((orm, a: { client: ClientId }) =>
  orm
    .select({ id: people.id })
    .from(people)
    .where(and(eq(people.clientId, a.client), eq(people.access, 'client'), eq(people.active, true)))
    .orderBy(asc(people.id)),
)
const contactsAs = within((orm, a: { client: ClientId; title: string }) =>
  orm
    .select({ id: people.id })
    .from(people)
    .where(
      and(
        eq(people.clientId, a.client),
        eq(people.access, 'client'),
        eq(people.active, true),
        eq(caseless(people.title), a.title),
      ),
    )
    .orderBy(asc(people.id)),
)

/** Those that a task alone has. */
function ofTask({ reader }: Engine, is: Who['is'], task: TaskId): Found {
  switch (is) {
    case 'assignees':
      return assigneesOf.all(reader, { task }).map((a) => a.id)
    case 'manager':
      return assigneesOf.all(reader, { task }).map((a) => a.managerId)
    case 'managers-manager':
      return assigneesOf.all(reader, { task }).map((a) => a.above)
    case 'followers':
      return followersOf.all(reader, { task }).map((a) => a.id)
    case 'creator':
      return [creatorOf.get(reader, { task })?.id ?? null]
    default:
      return []
  }
}
/** Those of the client that it is for. */
function ofClient({ reader }: Engine, who: Who, client: ClientId): Found {
  switch (who.is) {
    case 'client-lead':
      return [clientLeadOf.get(reader, { client })?.id ?? null]
    case 'contacts':
      return contactsOf.all(reader, { client }).map((a) => a.id)
    case 'role':
      return usuallyIs.all(reader, { client, role: who.role }).map((a) => a.id)
    case 'contact':
      return contactsAs.all(reader, { client, title: who.role }).map((a) => a.id)
    default:
      return []
  }
}
/** The lead of its project, and those whom the rule itself names. */
function ofRule({ reader }: Engine, who: Who, { project, owner }: Around): Found {
  if (who.is === 'owner') return [owner]
  if (who.is === 'person') return [who.id]
  return who.is === 'lead' && project !== null ? [leadOf.get(reader, { project })?.id ?? null] : []
}

/** Somebody of a team who is chosen, and why; null where the action is about nobody chosen so. */
function chosen(engine: Engine, who: Who, { day, turns }: Around): Chosen | null {
  if (who.is === 'team') return leastLoaded(engine, teamOf(engine.reader, who.id), day)
  if (who.is !== 'team-turn') return null
  const next = nextInTurn(engine, teamOf(engine.reader, who.id), day, turns.last(who.id))
  if (next) turns.now(who.id, next.id)
  return next
}

/** Those whom an action is about without a choice. */
function found(engine: Engine, who: Who, around: Around): Found {
  const { about, client } = around
  if (who.is === 'team-all') return teamOf(engine.reader, who.id)
  return [
    ...(about.kind === 'task' ? ofTask(engine, who.is, about.id) : []),
    ...ofRule(engine, who, around),
    ...(client === null ? [] : ofClient(engine, who, client)),
  ]
}

export interface Whom {
  readonly people: readonly PersonId[]
  /** Names of those who left. */
  readonly left: readonly string[]
  /** Why it is they, where somebody was chosen. */
  readonly why: string | null
}
/** Who an action of a rule is about; people who left are named apart. */
export function resolveWho(engine: Engine, who: Who, around: Around): Whom {
  const one = chosen(engine, who, around)
  const ids = [...(one ? [one.id] : []), ...found(engine, who, around)]
  const sorted = { people: new Set<PersonId>(), left: new Set<string>() }
  for (const id of ids) {
    if (id === null) continue
    const person = personById.get(engine.reader, { id })
    if (person?.active) sorted.people.add(id)
    else sorted.left.add(person?.name ?? `person ${id}`)
  }
  return { people: [...sorted.people], left: [...sorted.left], why: one?.why ?? null }
}
