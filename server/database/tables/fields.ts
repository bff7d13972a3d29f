import { index, integer, real, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core'
import { people } from './people.ts'
import { states } from './states.ts'
import { projects, tasks } from './work.ts'

/** When a task entered each state; the newest row is where it stands now. */
export const stateDates = sqliteTable(
  'stateDates',
  {
    id: integer().primaryKey(),
    taskId: integer()
      .notNull()
      .references(() => tasks.id, { onDelete: 'cascade' }),
    stateId: integer().references(() => states.id, { onDelete: 'set null' }),
    kind: text().notNull(),
    at: integer().notNull(),
  },
  (t) => [index('stateDates_by_task').on(t.taskId, t.at)],
)

export const tags = sqliteTable(
  'tags',
  { id: integer().primaryKey(), name: text().notNull(), colour: text().notNull() },
  (t) => [uniqueIndex('tags_by_name').on(t.name)],
)

export const taskTags = sqliteTable(
  'taskTags',
  {
    id: integer().primaryKey(),
    taskId: integer()
      .notNull()
      .references(() => tasks.id, { onDelete: 'cascade' }),
    tagId: integer()
      .notNull()
      .references(() => tags.id, { onDelete: 'cascade' }),
  },
  (t) => [uniqueIndex('taskTags_once').on(t.taskId, t.tagId), index('taskTags_by_tag').on(t.tagId)],
)

/**
 * Custom fields: firm-wide, or of one project or template. `options` is JSON: the choices of a
 * choice, the currency of money.
 */
export const fields = sqliteTable('fields', {
  id: integer().primaryKey(),
  name: text().notNull(),
  kind: text().notNull(),
  options: text().notNull().default('{}'),
  projectId: integer().references(() => projects.id, { onDelete: 'cascade' }),
  templateId: integer(),
  hidden: integer().notNull().default(0),
  position: integer().notNull().default(0),
})

/**
 * A field's value on a task: numbers, minor money units, people and yes/no as `number`, all else as
 * `text`.
 */
export const fieldValues = sqliteTable(
  'fieldValues',
  {
    id: integer().primaryKey(),
    taskId: integer()
      .notNull()
      .references(() => tasks.id, { onDelete: 'cascade' }),
    fieldId: integer()
      .notNull()
      .references(() => fields.id, { onDelete: 'cascade' }),
    text: text(),
    number: real(),
  },
  (t) => [
    uniqueIndex('fieldValues_once').on(t.taskId, t.fieldId),
    index('fieldValues_by_field').on(t.fieldId),
  ],
)

/** Fields that one project does not show; their values stay. */
export const hiddenFields = sqliteTable(
  'hiddenFields',
  {
    id: integer().primaryKey(),
    projectId: integer()
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    fieldId: integer()
      .notNull()
      .references(() => fields.id, { onDelete: 'cascade' }),
  },
  (t) => [uniqueIndex('hiddenFields_once').on(t.projectId, t.fieldId)],
)

/**
 * Views that somebody saved. `definition` is JSON; a shared one is everybody's to open, its owner's
 * to change.
 */
export const views = sqliteTable('views', {
  id: integer().primaryKey(),
  name: text().notNull(),
  ownerId: integer()
    .notNull()
    .references(() => people.id),
  shared: integer().notNull().default(0),
  definition: text().notNull(),
  version: integer().notNull().default(1),
})

/** Views that a person keeps at hand. */
export const viewPins = sqliteTable(
  'viewPins',
  {
    id: integer().primaryKey(),
    personId: integer()
      .notNull()
      .references(() => people.id),
    viewId: integer()
      .notNull()
      .references(() => views.id, { onDelete: 'cascade' }),
  },
  (t) => [uniqueIndex('viewPins_once').on(t.personId, t.viewId)],
)
