import { sql } from 'drizzle-orm'
import { index, integer, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core'
import type { PersonId, ProjectId, SeriesId, StateId, TaskId, TemplateId } from '#core/brands.ts'
import { id } from './columns.ts'
import { series } from './clockwork.ts'
import { people } from './people.ts'
import { tasks } from './work.ts'

/**
 * What derivers of the journal keep, so that questions begin at what is asked for: a person's open
 * work and series, the tasks in a state. All of it can be worked out again from the other tables.
 */

/** Who is on which task that is neither closed nor archived. */
export const openAssignments = sqliteTable(
  'openAssignments',
  {
    id: id<'open assignment'>(),
    personId: integer()
      .notNull()
      .$type<PersonId>()
      .references(() => people.id),
    taskId: integer()
      .notNull()
      .$type<TaskId>()
      .references(() => tasks.id, { onDelete: 'cascade' }),
  },
  (t) => [
    uniqueIndex('openAssignments_once').on(t.personId, t.taskId),
    index('openAssignments_by_task').on(t.taskId),
  ],
)

/** Tasks, neither closed nor archived, that nobody is on; `role` is the one they were planned for. */
export const openUnassigned = sqliteTable(
  'openUnassigned',
  {
    id: integer()
      .primaryKey()
      .$type<TaskId>()
      .references(() => tasks.id, { onDelete: 'cascade' }),
    projectId: integer().$type<ProjectId>(),
    role: text(),
    creatorId: integer().$type<PersonId>(),
  },
  (t) => [
    index('openUnassigned_by_role')
      .on(t.projectId, t.role)
      .where(sql`role is not null`),
    index('openUnassigned_ownerless')
      .on(t.id)
      .where(sql`role is null`),
    index('openUnassigned_by_creator').on(t.creatorId),
  ],
)

/** Whom a running series gives work by name. */
export const seriesPeople = sqliteTable(
  'seriesPeople',
  {
    id: id<'series person'>(),
    personId: integer()
      .notNull()
      .$type<PersonId>()
      .references(() => people.id),
    seriesId: integer()
      .notNull()
      .$type<SeriesId>()
      .references(() => series.id, { onDelete: 'cascade' }),
  },
  (t) => [
    uniqueIndex('seriesPeople_once').on(t.personId, t.seriesId),
    index('seriesPeople_by_series').on(t.seriesId),
  ],
)

/** How many tasks stand in each state. */
export const stateCounts = sqliteTable('stateCounts', {
  id: integer().primaryKey().$type<StateId>(),
  tasks: integer().notNull(),
})

/** How many projects were ever started from each template. */
export const templateCounts = sqliteTable('templateCounts', {
  id: integer().primaryKey().$type<TemplateId>(),
  projects: integer().notNull(),
})
