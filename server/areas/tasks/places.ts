import { sql, type SQLWrapper } from 'drizzle-orm'
import type { SQLiteTable } from 'drizzle-orm/sqlite-core'
import {
  clients,
  clientTags,
  clientValues,
  people,
  phases,
  projects,
  projectValues,
} from '../../database/tables/index.ts'

/** Fields of what a task belongs to, as SQL over their own tables. */
export interface Place {
  readonly table: SQLiteTable
  readonly id: SQLWrapper
  /** The column of each field, and the place that leads to. */
  readonly fields: Readonly<Record<string, PlaceField>>
  /** Where values of the firm's own fields of it are kept, and which are its own. */
  readonly own?: {
    readonly values: typeof projectValues | typeof clientValues
    readonly owner: SQLWrapper
  }
}
interface PlaceField {
  readonly value: SQLWrapper
  readonly to?: string
  /** It has several, in rows of another table that say whose they are. */
  readonly many?: { readonly table: SQLWrapper; readonly of: SQLWrapper }
}
export const PLACES: Readonly<Record<string, Place>> = {
  project: {
    ...{ table: projects, id: projects.id },
    own: { values: projectValues, owner: projectValues.projectId },
    fields: {
      name: { value: projects.name },
      client: { value: projects.clientId, to: 'client' },
      lead: { value: projects.leadId, to: 'person' },
      state: { value: projects.state },
      category: { value: sql`nullif(${projects.category}, '')` },
      anchor: { value: projects.anchor },
      health: { value: projects.health },
      created: { value: projects.createdAt },
      closed: { value: projects.closedAt },
    },
  },
  client: {
    ...{ table: clients, id: clients.id },
    own: { values: clientValues, owner: clientValues.clientId },
    fields: {
      name: { value: clients.name },
      short: { value: clients.short },
      tier: { value: clients.tier },
      state: { value: clients.stateId },
      lead: { value: clients.leadId, to: 'person' },
      tag: { value: clientTags.tagId, many: { table: clientTags, of: clientTags.clientId } },
    },
  },
  phase: { ...{ table: phases, id: phases.id }, fields: { name: { value: phases.name } } },
  person: {
    ...{ table: people, id: people.id },
    fields: { name: { value: people.name }, access: { value: people.access } },
  },
}
