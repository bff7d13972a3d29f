import {
  index,
  integer,
  sqliteTable,
  text,
  uniqueIndex,
  type AnySQLiteColumn,
} from 'drizzle-orm/sqlite-core'
import { stateSets, states } from './states.ts'
import { clients, people } from './people.ts'

/**
 * Projects. `health` is set by hand (null: judged by dates); `stateSetId` is null for the firm's
 * own set; an archived one is kept and out of the way.
 */
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
    description: text().notNull().default(''),
    stateSetId: integer().references(() => stateSets.id),
    health: text(),
    healthReason: text().notNull().default(''),
    closedAt: integer(),
    archivedAt: integer(),
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
 * Tasks. `due` and `start` are dates in the firm's zone, `dueTime` a local time; `estimate` is in
 * minutes;
 * `state` is the kind of the named state `stateId`; `description` is sanitised HTML; `parentId`
 * makes it a subtask,
 * whose parent's dates and state may follow its subtasks; `doneBy` says whether one assignee
 * finishes it or all must; `closedAt` is set while it is done or dropped; `rung` is the highest
 * rung of the
 * late-work ladder it stands on for its present due date.
 */
export const tasks = sqliteTable(
  'tasks',
  {
    id: integer().primaryKey(),
    title: text().notNull(),
    description: text().notNull().default(''),
    state: text().notNull().default('not-started'),
    stateId: integer().references(() => states.id),
    parentId: integer().references((): AnySQLiteColumn => tasks.id),
    datesFollow: integer().notNull().default(0),
    stateFollows: integer().notNull().default(0),
    doneBy: text().notNull().default('any'),
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
    archivedAt: integer(),
    /** The task this one was merged into. */
    mergedInto: integer(),
    version: integer().notNull().default(1),
  },
  (t) => [
    index('tasks_open_by_due').on(t.closedAt, t.due),
    index('tasks_by_project').on(t.projectId, t.position),
    index('tasks_by_due').on(t.due),
    index('tasks_by_parent').on(t.parentId),
    index('tasks_by_client').on(t.clientId),
  ],
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
    /** This person's part of the effort, in minutes; null: an even share of the task's. */
    estimate: integer(),
    /** When this person finished their part, where all must. */
    doneAt: integer(),
  },
  (t) => [
    uniqueIndex('taskAssignees_once').on(t.taskId, t.personId),
    index('taskAssignees_by_person').on(t.personId),
  ],
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

/** People told about changes without working on them. */
export const taskFollowers = sqliteTable(
  'taskFollowers',
  {
    id: integer().primaryKey(),
    taskId: integer()
      .notNull()
      .references(() => tasks.id, { onDelete: 'cascade' }),
    personId: integer()
      .notNull()
      .references(() => people.id),
  },
  (t) => [uniqueIndex('taskFollowers_once').on(t.taskId, t.personId)],
)

export const milestones = sqliteTable(
  'milestones',
  {
    id: integer().primaryKey(),
    projectId: integer()
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    ownerId: integer().references(() => people.id),
    date: text(),
    doneAt: integer(),
  },
  (t) => [index('milestones_by_project').on(t.projectId, t.date)],
)

/**
 * What is said about a project: its discussion, and status updates (those with a `health`). `body`
 * is sanitised HTML.
 */
export const posts = sqliteTable(
  'posts',
  {
    id: integer().primaryKey(),
    projectId: integer()
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    authorId: integer().references(() => people.id),
    health: text(),
    body: text().notNull(),
    at: integer().notNull(),
  },
  (t) => [index('posts_by_project').on(t.projectId, t.at)],
)

/**
 * Files and links on a task, or on a project alone. A file's bytes lie under its SHA-256 `digest`
 * outside the web root; `size` is in bytes.
 */
export const attachments = sqliteTable(
  'attachments',
  {
    id: integer().primaryKey(),
    taskId: integer().references(() => tasks.id, { onDelete: 'cascade' }),
    projectId: integer().references(() => projects.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    url: text(),
    type: text(),
    size: integer(),
    digest: text(),
    personId: integer().references(() => people.id),
    at: integer().notNull(),
  },
  (t) => [
    index('attachments_by_task').on(t.taskId),
    index('attachments_by_project').on(t.projectId),
  ],
)
