import { index, integer, real, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core'
import type {
  ClientId,
  FieldId,
  PersonId,
  ProjectId,
  StateId,
  TagId,
  TaskId,
  TemplateId,
  ViewId,
} from '#core/brands.ts'
import { CUSTOM_KINDS, type FieldOptions } from '#contract/fields.ts'
import type { ViewDefinition } from '#contract/query.ts'
import { FIELD_OWNERS, READERS, STATES } from '#contract/words.ts'
import { flag, id, instant, json, version } from './columns.ts'
import { clients, people } from './people.ts'
import { states } from './states.ts'
import { projects, tasks } from './work.ts'

/** When a task entered each state; the newest row is where it stands now. */
export const stateDates = sqliteTable(
  'stateDates',
  {
    id: id<'state date'>(),
    taskId: integer()
      .notNull()
      .$type<TaskId>()
      .references(() => tasks.id, { onDelete: 'cascade' }),
    stateId: integer()
      .$type<StateId>()
      .references(() => states.id, { onDelete: 'set null' }),
    kind: text({ enum: STATES }).notNull(),
    at: instant().notNull(),
  },
  (t) => [
    uniqueIndex('stateDates_once').on(t.taskId, t.stateId),
    index('stateDates_by_state').on(t.stateId),
  ],
)

export const tags = sqliteTable(
  'tags',
  { id: id<'tag'>(), name: text().notNull(), colour: text().notNull() },
  (t) => [uniqueIndex('tags_by_name').on(t.name)],
)

export const taskTags = sqliteTable(
  'taskTags',
  {
    id: id<'task tag'>(),
    taskId: integer()
      .notNull()
      .$type<TaskId>()
      .references(() => tasks.id, { onDelete: 'cascade' }),
    tagId: integer()
      .notNull()
      .$type<TagId>()
      .references(() => tags.id, { onDelete: 'cascade' }),
  },
  (t) => [uniqueIndex('taskTags_once').on(t.taskId, t.tagId), index('taskTags_by_tag').on(t.tagId)],
)

export const clientTags = sqliteTable(
  'clientTags',
  {
    id: id<'client tag'>(),
    clientId: integer()
      .notNull()
      .$type<ClientId>()
      .references(() => clients.id, { onDelete: 'cascade' }),
    tagId: integer()
      .notNull()
      .$type<TagId>()
      .references(() => tags.id, { onDelete: 'cascade' }),
  },
  (t) => [
    uniqueIndex('clientTags_once').on(t.clientId, t.tagId),
    index('clientTags_by_tag').on(t.tagId),
  ],
)

/** Custom fields: of tasks, firm-wide or in one project or template; of projects; of clients. */
export const fields = sqliteTable('fields', {
  id: id<'field'>(),
  of: text({ enum: FIELD_OWNERS }).notNull().default('task'),
  name: text().notNull(),
  kind: text({ enum: CUSTOM_KINDS }).notNull(),
  options: json<FieldOptions>().notNull().default({}),
  projectId: integer()
    .$type<ProjectId>()
    .references(() => projects.id, { onDelete: 'cascade' }),
  templateId: integer().$type<TemplateId>(),
  hidden: flag().notNull().default(false),
  readers: text({ enum: READERS }).notNull().default('everyone'),
  position: integer().notNull().default(0),
})

/** A field's value: numbers, minor money units, people and yes/no as `number`, all else as `text`. */
const value = () => ({
  fieldId: integer()
    .notNull()
    .$type<FieldId>()
    .references(() => fields.id, { onDelete: 'cascade' }),
  text: text(),
  number: real(),
})

/** A field's value on a task. */
export const fieldValues = sqliteTable(
  'fieldValues',
  {
    id: id<'field value'>(),
    taskId: integer()
      .notNull()
      .$type<TaskId>()
      .references(() => tasks.id, { onDelete: 'cascade' }),
    ...value(),
  },
  (t) => [
    uniqueIndex('fieldValues_once').on(t.taskId, t.fieldId),
    index('fieldValues_by_field').on(t.fieldId),
  ],
)

/** A field's value on a project, kept as those of tasks. */
export const projectValues = sqliteTable(
  'projectValues',
  {
    id: id<'project value'>(),
    projectId: integer()
      .notNull()
      .$type<ProjectId>()
      .references(() => projects.id, { onDelete: 'cascade' }),
    ...value(),
  },
  (t) => [
    uniqueIndex('projectValues_once').on(t.projectId, t.fieldId),
    index('projectValues_by_field').on(t.fieldId),
  ],
)
/** A field's value on a client, kept as those of tasks. */
export const clientValues = sqliteTable(
  'clientValues',
  {
    id: id<'client value'>(),
    clientId: integer()
      .notNull()
      .$type<ClientId>()
      .references(() => clients.id, { onDelete: 'cascade' }),
    ...value(),
  },
  (t) => [
    uniqueIndex('clientValues_once').on(t.clientId, t.fieldId),
    index('clientValues_by_field').on(t.fieldId),
  ],
)

/** Fields that one project does not show; their values stay. */
export const hiddenFields = sqliteTable(
  'hiddenFields',
  {
    id: id<'hidden field'>(),
    projectId: integer()
      .notNull()
      .$type<ProjectId>()
      .references(() => projects.id, { onDelete: 'cascade' }),
    fieldId: integer()
      .notNull()
      .$type<FieldId>()
      .references(() => fields.id, { onDelete: 'cascade' }),
  },
  (t) => [uniqueIndex('hiddenFields_once').on(t.projectId, t.fieldId)],
)

/** Views that somebody saved; a shared one is everybody's to open, its owner's to change. */
export const views = sqliteTable('views', {
  id: id<'view'>(),
  name: text().notNull(),
  ownerId: integer()
    .notNull()
    .$type<PersonId>()
    .references(() => people.id),
  shared: flag().notNull().default(false),
  definition: json<ViewDefinition>().notNull(),
  version: version(),
})

/** Views that a person keeps at hand. */
export const viewPins = sqliteTable(
  'viewPins',
  {
    id: id<'view pin'>(),
    personId: integer()
      .notNull()
      .$type<PersonId>()
      .references(() => people.id),
    viewId: integer()
      .notNull()
      .$type<ViewId>()
      .references(() => views.id, { onDelete: 'cascade' }),
  },
  (t) => [uniqueIndex('viewPins_once').on(t.personId, t.viewId)],
)
