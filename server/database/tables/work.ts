import { sql } from 'drizzle-orm'
import {
  index,
  integer,
  sqliteTable,
  text,
  uniqueIndex,
  type AnySQLiteColumn,
} from 'drizzle-orm/sqlite-core'
import type {
  ClientId,
  IsoDate,
  LocalStamp,
  LocalTime,
  PersonId,
  PhaseId,
  ProjectId,
  RuleId,
  SeriesId,
  StateId,
  StateSetId,
  TaskId,
  TeamId,
  TemplateId,
} from '#core/brands.ts'
import type { ReminderWhen } from '#contract/reminders.ts'
import {
  AUDIENCES,
  DONE_BY,
  HEALTHS,
  PRIORITIES,
  PROJECT_STATES,
  SHARED,
  STATES,
} from '#contract/words.ts'
import type { ViewDefinition } from '#contract/query.ts'
import { flag, id, instant, json, version } from './columns.ts'
import { stateSets, states } from './states.ts'
import { clients, people, teams } from './people.ts'

/**
 * Projects. `health` is set by hand (null: judged by dates); `stateSetId` is null for the firm's
 * own set; `view` is how its work is shown to who has not chosen otherwise; an archived one is kept
 * and out of the way.
 */
export const projects = sqliteTable(
  'projects',
  {
    id: id<'project'>(),
    name: text().notNull(),
    clientId: integer()
      .$type<ClientId>()
      .references(() => clients.id),
    leadId: integer()
      .$type<PersonId>()
      .references(() => people.id),
    templateId: integer().$type<TemplateId>(),
    templateVersion: integer(),
    anchor: text().$type<IsoDate>(),
    description: text().notNull().default(''),
    stateSetId: integer()
      .$type<StateSetId>()
      .references(() => stateSets.id),
    health: text({ enum: HEALTHS }),
    healthReason: text().notNull().default(''),
    view: json<ViewDefinition>(),
    /** Who sees it, besides managers, its lead and those it is shared with. */
    audience: text({ enum: AUDIENCES }).notNull().default('firm'),
    teamId: integer()
      .$type<TeamId>()
      .references(() => teams.id),
    state: text({ enum: PROJECT_STATES }).notNull().default('running'),
    /** The day since when it is on hold. */
    heldOn: text().$type<IsoDate>(),
    /** What kind of work it is, in the firm’s own words. */
    category: text().notNull().default(''),
    closedAt: instant(),
    archivedAt: instant(),
    seriesId: integer().$type<SeriesId>(),
    occurrence: text().$type<LocalStamp>(),
    createdAt: instant().notNull(),
    version: version(),
  },
  (t) => [
    index('projects_by_client').on(t.clientId),
    index('projects_by_lead').on(t.leadId, t.closedAt),
    index('projects_by_template').on(t.templateId),
    index('projects_by_states')
      .on(t.stateSetId)
      .where(sql`stateSetId is not null`),
    // Most are the firm's: what members do not see is looked for among the others.
    index('projects_apart')
      .on(t.audience, t.teamId)
      .where(sql`audience <> 'firm'`),
    index('projects_running')
      .on(t.name)
      .where(sql`closedAt is null and archivedAt is null`),
    index('projects_closed')
      .on(t.closedAt, t.id)
      .where(sql`closedAt is not null and archivedAt is null`),
    index('projects_archived')
      .on(t.archivedAt, t.id)
      .where(sql`archivedAt is not null`),
  ],
)

/**
 * What is shared with somebody by name: a project, a phase of one, or a client with all that is done
 * for it; one of the three. `may` is the most they may do there.
 */
export const shares = sqliteTable(
  'shares',
  {
    id: id<'share'>(),
    personId: integer()
      .notNull()
      .$type<PersonId>()
      .references(() => people.id),
    projectId: integer()
      .$type<ProjectId>()
      .references(() => projects.id, { onDelete: 'cascade' }),
    phaseId: integer()
      .$type<PhaseId>()
      .references(() => phases.id, { onDelete: 'cascade' }),
    clientId: integer()
      .$type<ClientId>()
      .references(() => clients.id, { onDelete: 'cascade' }),
    may: text({ enum: SHARED }).notNull(),
  },
  (t) => [
    index('shares_by_person').on(t.personId, t.projectId),
    uniqueIndex('shares_of_project')
      .on(t.projectId, t.personId)
      .where(sql`projectId is not null and phaseId is null`),
    uniqueIndex('shares_of_phase')
      .on(t.phaseId, t.personId)
      .where(sql`phaseId is not null`),
    uniqueIndex('shares_of_client')
      .on(t.clientId, t.personId)
      .where(sql`clientId is not null`),
  ],
)

export const phases = sqliteTable(
  'phases',
  {
    id: id<'phase'>(),
    projectId: integer()
      .notNull()
      .$type<ProjectId>()
      .references(() => projects.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    position: integer().notNull(),
  },
  (t) => [index('phases_by_project').on(t.projectId, t.position)],
)

/**
 * Tasks. `due` and `start` are dates in the firm's zone, `dueTime` a local time; `estimate` is in
 * minutes; `state` is the kind of the named state `stateId`; `description` is sanitised HTML;
 * `parentId` makes it a subtask, whose parent's dates and state may follow its subtasks; `doneBy`
 * says whether one assignee finishes it or all must; `closedAt` is set while it is done or dropped;
 * `rung` is the highest rung of the late-work ladder it stands on for its present due date.
 */
export const tasks = sqliteTable(
  'tasks',
  {
    id: id<'task'>(),
    title: text().notNull(),
    description: text().notNull().default(''),
    state: text({ enum: STATES }).notNull().default('not-started'),
    stateId: integer()
      .$type<StateId>()
      .references(() => states.id),
    parentId: integer()
      .$type<TaskId>()
      .references((): AnySQLiteColumn => tasks.id),
    datesFollow: flag().notNull().default(false),
    stateFollows: flag().notNull().default(false),
    doneBy: text({ enum: DONE_BY }).notNull().default('any'),
    priority: text({ enum: PRIORITIES }).notNull().default('normal'),
    projectId: integer()
      .$type<ProjectId>()
      .references(() => projects.id),
    phaseId: integer()
      .$type<PhaseId>()
      .references(() => phases.id),
    clientId: integer()
      .$type<ClientId>()
      .references(() => clients.id),
    /** The template's role this task was planned for; kept so that an unfilled one can be named. */
    role: text(),
    start: text().$type<IsoDate>(),
    due: text().$type<IsoDate>(),
    dueTime: text().$type<LocalTime>(),
    /** The first date ever promised; how often it was moved to a later one since. */
    firstDue: text().$type<IsoDate>(),
    postponed: integer().notNull().default(0),
    reviewedAt: instant(),
    estimate: integer(),
    creatorId: integer()
      .$type<PersonId>()
      .references(() => people.id),
    seriesId: integer().$type<SeriesId>(),
    occurrence: text().$type<LocalStamp>(),
    rung: integer().notNull().default(0),
    rungOf: integer().$type<RuleId>(),
    position: integer().notNull().default(0),
    createdAt: instant().notNull(),
    closedAt: instant(),
    archivedAt: instant(),
    /** The task this one was merged into. */
    mergedInto: integer().$type<TaskId>(),
    version: version(),
  },
  (t) => [
    // Partial ones, since statistics tell the planner nothing about a column that is mostly null.
    index('tasks_open_by_due')
      .on(t.due)
      .where(sql`closedAt is null`),
    index('tasks_closed')
      .on(t.closedAt)
      .where(sql`closedAt is not null`),
    index('tasks_by_project').on(t.projectId, t.position),
    index('tasks_by_due').on(t.due),
    index('tasks_by_parent')
      .on(t.parentId)
      .where(sql`parentId is not null`),
    index('tasks_by_client').on(t.clientId),
    index('tasks_by_phase').on(t.phaseId),
    index('tasks_by_state').on(t.stateId),
    index('tasks_by_creator').on(t.creatorId, t.closedAt),
    index('tasks_in_review')
      .on(t.projectId)
      .where(sql`state = 'in-review' and closedAt is null`),
    index('tasks_in_review_by_creator')
      .on(t.creatorId)
      .where(sql`state = 'in-review' and closedAt is null`),
  ],
)

/** Reminders of tasks. */
export const reminders = sqliteTable(
  'reminders',
  {
    id: id<'reminder'>(),
    taskId: integer()
      .notNull()
      .$type<TaskId>()
      .references(() => tasks.id, { onDelete: 'cascade' }),
    when: json<ReminderWhen>().notNull(),
    assignees: flag().notNull(),
    people: json<readonly PersonId[]>().notNull(),
    daily: flag().notNull(),
    text: text().notNull().default(''),
    creatorId: integer()
      .$type<PersonId>()
      .references(() => people.id),
  },
  (t) => [index('reminders_by_task').on(t.taskId)],
)
/** What went to whom on which of their days: nobody is reminded of a thing twice. */
export const reminded = sqliteTable(
  'reminded',
  {
    id: id<'reminded'>(),
    reminderId: integer().notNull(),
    personId: integer().notNull().$type<PersonId>(),
    day: text().notNull().$type<IsoDate>(),
    at: instant().notNull(),
  },
  (t) => [
    uniqueIndex('reminded_once').on(t.reminderId, t.personId, t.day),
    index('reminded_by_time').on(t.at),
  ],
)

export const taskAssignees = sqliteTable(
  'taskAssignees',
  {
    id: id<'assignment'>(),
    taskId: integer()
      .notNull()
      .$type<TaskId>()
      .references(() => tasks.id, { onDelete: 'cascade' }),
    personId: integer()
      .notNull()
      .$type<PersonId>()
      .references(() => people.id),
    /** This person's part of the effort, in minutes; null: an even share of the task's. */
    estimate: integer(),
    /** When this person finished their part, where all must. */
    doneAt: instant(),
  },
  (t) => [
    uniqueIndex('taskAssignees_once').on(t.taskId, t.personId),
    index('taskAssignees_by_person').on(t.personId),
  ],
)

export const checklistItems = sqliteTable(
  'checklistItems',
  {
    id: id<'checklist item'>(),
    taskId: integer()
      .notNull()
      .$type<TaskId>()
      .references(() => tasks.id, { onDelete: 'cascade' }),
    title: text().notNull(),
    done: flag().notNull().default(false),
    position: integer().notNull(),
  },
  (t) => [index('checklistItems_by_task').on(t.taskId, t.position)],
)

export const comments = sqliteTable(
  'comments',
  {
    id: id<'comment'>(),
    taskId: integer()
      .notNull()
      .$type<TaskId>()
      .references(() => tasks.id, { onDelete: 'cascade' }),
    /** Null for what a rule wrote. */
    authorId: integer()
      .$type<PersonId>()
      .references(() => people.id),
    body: text().notNull(),
    at: instant().notNull(),
  },
  (t) => [index('comments_by_task').on(t.taskId, t.at)],
)

/** People told about changes without working on them. */
export const taskFollowers = sqliteTable(
  'taskFollowers',
  {
    id: id<'follow'>(),
    taskId: integer()
      .notNull()
      .$type<TaskId>()
      .references(() => tasks.id, { onDelete: 'cascade' }),
    personId: integer()
      .notNull()
      .$type<PersonId>()
      .references(() => people.id),
  },
  (t) => [uniqueIndex('taskFollowers_once').on(t.taskId, t.personId)],
)

export const milestones = sqliteTable(
  'milestones',
  {
    id: id<'milestone'>(),
    projectId: integer()
      .notNull()
      .$type<ProjectId>()
      .references(() => projects.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    ownerId: integer()
      .$type<PersonId>()
      .references(() => people.id),
    date: text().$type<IsoDate>(),
    doneAt: instant(),
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
    id: id<'post'>(),
    projectId: integer()
      .notNull()
      .$type<ProjectId>()
      .references(() => projects.id, { onDelete: 'cascade' }),
    authorId: integer()
      .$type<PersonId>()
      .references(() => people.id),
    health: text({ enum: HEALTHS }),
    body: text().notNull(),
    at: instant().notNull(),
  },
  (t) => [index('posts_by_project').on(t.projectId, t.at)],
)

/**
 * Files and links on a task, or on a project alone. A file's bytes lie under its SHA-256 `digest`
 * outside the web root; `size` is in bytes; `onBoard` shows it on the slip of its task.
 */
export const attachments = sqliteTable(
  'attachments',
  {
    id: id<'attachment'>(),
    taskId: integer()
      .$type<TaskId>()
      .references(() => tasks.id, { onDelete: 'cascade' }),
    projectId: integer()
      .$type<ProjectId>()
      .references(() => projects.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    url: text(),
    type: text(),
    size: integer(),
    digest: text(),
    onBoard: flag().notNull().default(false),
    personId: integer()
      .$type<PersonId>()
      .references(() => people.id),
    at: instant().notNull(),
  },
  (t) => [
    index('attachments_by_task').on(t.taskId),
    index('attachments_by_digest').on(t.digest),
    index('attachments_by_project').on(t.projectId),
  ],
)
