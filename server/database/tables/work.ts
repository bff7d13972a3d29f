import { index, integer, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core'
import { clients, people } from './people.ts'

export const projects = sqliteTable(
  'projects',
  {
    id: integer().primaryKey(),
    name: text().notNull(),
    clientId: integer().references(() => clients.id),
    leadId: integer().references(() => people.id),
    templateId: integer(),
    templateVersion: integer(),
    anchor: text(),
    closedAt: integer(),
    seriesId: integer(),
    occurrence: text(),
    createdAt: integer().notNull(),
    version: integer().notNull().default(1),
  },
  (t) => [index('projects_by_client').on(t.clientId)],
)

export const phases = sqliteTable(
  'phases',
  {
    id: integer().primaryKey(),
    projectId: integer()
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    position: integer().notNull(),
  },
  (t) => [index('phases_by_project').on(t.projectId, t.position)],
)

/**
 * Tasks. `due` and `start` are dates in the firm's zone, `dueTime` a local time; `estimate` is in minutes;
 * `state` is a kind of state; `closedAt` is set while it is done or dropped; `rung` is the highest rung of the
 * late-work ladder it stands on for its present due date.
 */
export const tasks = sqliteTable(
  'tasks',
  {
    id: integer().primaryKey(),
    title: text().notNull(),
    description: text().notNull().default(''),
    state: text().notNull().default('not-started'),
    priority: text().notNull().default('normal'),
    projectId: integer().references(() => projects.id),
    phaseId: integer().references(() => phases.id),
    clientId: integer().references(() => clients.id),
    /** The template's role this task was planned for; kept so that an unfilled one can be named. */
    role: text(),
    start: text(),
    due: text(),
    dueTime: text(),
    estimate: integer(),
    creatorId: integer().references(() => people.id),
    seriesId: integer(),
    occurrence: text(),
    rung: integer().notNull().default(0),
    rungOf: integer(),
    position: integer().notNull().default(0),
    createdAt: integer().notNull(),
    closedAt: integer(),
    version: integer().notNull().default(1),
  },
  (t) => [index('tasks_open_by_due').on(t.closedAt, t.due), index('tasks_by_project').on(t.projectId, t.position)],
)

export const taskAssignees = sqliteTable(
  'taskAssignees',
  {
    id: integer().primaryKey(),
    taskId: integer()
      .notNull()
      .references(() => tasks.id, { onDelete: 'cascade' }),
    personId: integer()
      .notNull()
      .references(() => people.id),
  },
  (t) => [uniqueIndex('taskAssignees_once').on(t.taskId, t.personId), index('taskAssignees_by_person').on(t.personId)],
)

export const checklistItems = sqliteTable(
  'checklistItems',
  {
    id: integer().primaryKey(),
    taskId: integer()
      .notNull()
      .references(() => tasks.id, { onDelete: 'cascade' }),
    title: text().notNull(),
    done: integer().notNull().default(0),
    position: integer().notNull(),
  },
  (t) => [index('checklistItems_by_task').on(t.taskId, t.position)],
)

export const comments = sqliteTable(
  'comments',
  {
    id: integer().primaryKey(),
    taskId: integer()
      .notNull()
      .references(() => tasks.id, { onDelete: 'cascade' }),
    /** Null for what a rule wrote. */
    authorId: integer().references(() => people.id),
    body: text().notNull(),
    at: integer().notNull(),
  },
  (t) => [index('comments_by_task').on(t.taskId, t.at)],
)
