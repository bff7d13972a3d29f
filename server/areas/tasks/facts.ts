import { eq, sql } from 'drizzle-orm'
import { alias } from 'drizzle-orm/sqlite-core'
import type { TaskId } from '#core/brands.ts'
import type { TaskFacts } from '#core/fields/facts.ts'
import { within, type Row } from '../../database/query.ts'
import {
  clients,
  people,
  projects,
  taskAssignees,
  taskFollowers,
  tasks,
  templates,
} from '../../database/tables/index.ts'
import type { Engine } from '../../engine/services.ts'
import { rowFor } from './rows.ts'

/** What rules know of a task: its row, and what of its surroundings is asked for. */

/** A task's client is its own, or its project's. */
const clientOf = sql`coalesce(${tasks.clientId}, ${projects.clientId})`
const lead = alias(people, 'lead')
const projectClient = alias(clients, 'projectClient')
/** What a row does not carry, by one question. */
const surroundings = within((orm, a: { id: TaskId }) =>
  orm
    .select({
      description: tasks.description,
      creator: { id: people.id, name: people.name, access: people.access },
      project: {
        id: projects.id,
        name: projects.name,
        anchor: projects.anchor,
        health: projects.health,
        createdAt: projects.createdAt,
        closedAt: projects.closedAt,
      },
      lead: { id: lead.id, name: lead.name, access: lead.access },
      projectClient: {
        id: projectClient.id,
        name: projectClient.name,
        short: projectClient.short,
        tier: projectClient.tier,
      },
      template: { id: templates.id, name: templates.name },
      client: { id: clients.id, name: clients.name, short: clients.short, tier: clients.tier },
    })
    .from(tasks)
    .leftJoin(people, eq(people.id, tasks.creatorId))
    .leftJoin(projects, eq(projects.id, tasks.projectId))
    .leftJoin(lead, eq(lead.id, projects.leadId))
    .leftJoin(projectClient, eq(projectClient.id, projects.clientId))
    .leftJoin(templates, eq(templates.id, projects.templateId))
    .leftJoin(clients, eq(clients.id, clientOf))
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

function projectOf(more: Row<typeof surroundings> | undefined) {
  if (!more?.project) return null
  const { project, lead, projectClient, template } = more
  return { ...project, lead, client: projectClient, template }
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
      return more()?.client ?? null
    },
    get project() {
      return projectOf(more())
    },
  }
}
