import { sql } from 'drizzle-orm'
import { index, integer, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core'
import type {
  ChangeId,
  IsoDate,
  PersonId,
  ProjectId,
  RuleId,
  RunId,
  TaskId,
  TokenId,
} from '#core/brands.ts'
import { ALARM_KINDS, ITEM_KINDS, NOTICE_KINDS } from '#contract/words.ts'
import { id, instant, json } from './columns.ts'
import { people } from './people.ts'

/** Who can cause a change. */
export const ACTORS = ['person', 'rule', 'series', 'import', 'engine'] as const
/** The tables whose rows are journalled; all others are records themselves, or derived. */
export const ENTITIES = [
  'firm',
  'holidays',
  'people',
  'teams',
  'teamMembers',
  'teamAsks',
  'timeOff',
  'clients',
  'clientRoles',
  'clientStates',
  'clientTags',
  'clientValues',
  'stateSets',
  'states',
  'projects',
  'phases',
  'shares',
  'tasks',
  'taskAssignees',
  'checklistItems',
  'reminders',
  'comments',
  'taskFollowers',
  'milestones',
  'posts',
  'attachments',
  'tags',
  'taskTags',
  'fields',
  'fieldValues',
  'projectValues',
  'hiddenFields',
  'views',
  'templates',
  'series',
  'seriesDates',
  'rules',
  'ruleOffs',
] as const
export type Entity = (typeof ENTITIES)[number]
/** Columns as they are stored, whatever they mean: what the journal keeps, compares and restores. */
export type Stored = Readonly<Record<string, string | number | null>>

/**
 * The dated record of every change: one row for each row changed. Entries of one change share
 * `change`. `before` and `after` are the changed columns as they are stored (the whole row where it
 * was made or removed). The item and the project say whose activity the entry belongs to.
 */
export const journal = sqliteTable(
  'journal',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    change: integer().notNull().$type<ChangeId>(),
    at: instant().notNull(),
    actorKind: text({ enum: ACTORS }).notNull(),
    actorId: integer(),
    /** The token by which a person's program did it. */
    tokenId: integer().$type<TokenId>(),
    causeId: integer(),
    depth: integer().notNull().default(0),
    /** The change that this one takes back. */
    undoes: integer().$type<ChangeId>(),
    entity: text({ enum: ENTITIES }).notNull(),
    entityId: integer().notNull(),
    action: text({ enum: ['made', 'changed', 'removed'] }).notNull(),
    itemKind: text({ enum: ITEM_KINDS }),
    itemId: integer(),
    projectId: integer().$type<ProjectId>(),
    before: json<Stored>(),
    after: json<Stored>(),
  },
  (t) => [
    index('journal_by_change').on(t.change),
    index('journal_by_item').on(t.itemKind, t.itemId, t.id),
    index('journal_by_row').on(t.entity, t.entityId, t.change),
    index('journal_by_project').on(t.projectId, t.change),
    index('journal_by_time').on(t.at),
    index('journal_undoes')
      .on(t.undoes)
      .where(sql`undoes is not null`),
  ],
)

/**
 * Changes that are made in portions, between whose entries others stand. While `last`, their newest
 * entry, is null they stand open: one that a stop left so is taken back by the next start. Closed
 * ones stay until they were heard.
 */
export const openChanges = sqliteTable('openChanges', {
  id: integer().primaryKey().$type<ChangeId>(),
  at: instant().notNull(),
  last: integer(),
})

/** Instants at which the engine has something to do for an item; `key` is what each is for, once. */
export const alarms = sqliteTable(
  'alarms',
  {
    id: id<'alarm'>(),
    at: instant().notNull(),
    kind: text({ enum: ALARM_KINDS }).notNull(),
    key: text().notNull(),
    ruleId: integer().$type<RuleId>(),
    itemKind: text({ enum: ITEM_KINDS }).notNull(),
    itemId: integer().notNull(),
    rung: integer(),
    /** The task up to which it has come, by its due, where what it does takes several portions. */
    after: json<readonly [due: IsoDate, id: TaskId]>(),
  },
  (t) => [
    uniqueIndex('alarms_once').on(t.key),
    index('alarms_due').on(t.at, t.id),
    index('alarms_by_rule').on(t.ruleId),
    index('alarms_by_item').on(t.itemKind, t.itemId),
  ],
)

/**
 * How far each listener has come: through all changes up to an entry, and so many events of the next
 * one, where that is heard in portions.
 */
export const positions = sqliteTable('positions', {
  id: id<'position'>(),
  name: text().notNull().unique(),
  journalId: integer().notNull(),
  heard: integer().notNull().default(0),
})

/**
 * The highest number that a table's rows have had, where that row is gone and none came after it:
 * the number of a thing is never given a second time.
 */
export const numbers = sqliteTable('numbers', {
  id: text().primaryKey(),
  last: integer().notNull(),
})

/** Effects outside the database, waiting to be sent. */
export const outbox = sqliteTable(
  'outbox',
  {
    id: id<'mail'>(),
    key: text().notNull(),
    recipient: text().notNull(),
    subject: text().notNull(),
    body: text().notNull(),
    state: text({ enum: ['waiting', 'sent', 'failed'] })
      .notNull()
      .default('waiting'),
    attempts: integer().notNull().default(0),
    nextAt: instant().notNull(),
    lastError: text(),
    createdAt: instant().notNull(),
    sentAt: instant(),
    /** The change that wrote it: taken back before it has left, it does not leave. */
    change: integer().$type<ChangeId>(),
  },
  (t) => [
    uniqueIndex('outbox_once').on(t.key),
    index('outbox_by_change')
      .on(t.change)
      .where(sql`"change" is not null`),
    index('outbox_waiting').on(t.state, t.nextAt),
    index('outbox_over')
      .on(t.createdAt)
      .where(sql`state <> 'waiting'`),
  ],
)

/** What Fernwick told a person, and what about. */
export const notices = sqliteTable(
  'notices',
  {
    id: id<'notice'>(),
    personId: integer()
      .notNull()
      .$type<PersonId>()
      .references(() => people.id),
    kind: text({ enum: NOTICE_KINDS }).notNull(),
    body: text().notNull(),
    itemKind: text({ enum: ITEM_KINDS }),
    itemId: integer(),
    runId: integer().$type<RunId>(),
    at: instant().notNull(),
    readAt: instant(),
  },
  (t) => [
    index('notices_by_person').on(t.personId, t.id),
    index('notices_read')
      .on(t.at)
      .where(sql`readAt is not null`),
    index('notices_unread')
      .on(t.personId, t.kind, t.id)
      .where(sql`readAt is null`),
  ],
)
