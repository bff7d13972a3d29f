import type { SQLWrapper } from 'drizzle-orm'
import type { SQLiteTable } from 'drizzle-orm/sqlite-core'
import { clients, people, phases, projects } from '../../database/tables/index.ts'

/** Fields of what a task belongs to, as SQL over their own tables. */
export interface Place {
  readonly table: SQLiteTable
  readonly id: SQLWrapper
  /** The column of each field, and the place that leads to. */
  readonly fields: Readonly<Record<string, { value: SQLWrapper; to?: string }>>
}
export const PLACES: Readonly<Record<string, Place>> = {
  project: {
    ...{ table: projects, id: projects.id },
    fields: {
      name: { value: projects.name },
      client: { value: projects.clientId, to: 'client' },
      lead: { value: projects.leadId, to: 'person' },
      anchor: { value: projects.anchor },
      health: { value: projects.health },
      created: { value: projects.createdAt },
      closed: { value: projects.closedAt },
    },
  },
  client: {
    ...{ table: clients, id: clients.id },
    fields: {
      name: { value: clients.name },
      short: { value: clients.short },
      tier: { value: clients.tier },
    },
  },
  phase: { ...{ table: phases, id: phases.id }, fields: { name: { value: phases.name } } },
  person: {
    ...{ table: people, id: people.id },
    fields: { name: { value: people.name }, access: { value: people.access } },
  },
}
