import { sql } from 'drizzle-orm'
import { index, integer, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core'
import { people } from './people.ts'

/**
 * The dated record of every change: one row for each row changed. Entries of one change share
 * `change`.
 * `before` and `after` are JSON of the changed columns (the whole row where it was made or
 * removed).
 * `taskId` and `projectId` say whose activity the entry belongs to.
 */
export const journal = sqliteTable(
  'journal',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    change: integer().notNull(),
    at: integer().notNull(),
    actorKind: text().notNull(),
    actorId: integer(),
    causeId: integer(),
    depth: integer().notNull().default(0),
    /** The change that this one takes back. */
    undoes: integer(),
    entity: text().notNull(),
    entityId: integer().notNull(),
    action: text().notNull(),
    taskId: integer(),
    projectId: integer(),
    before: text(),
    after: text(),
  },
  (t) => [
    index('journal_by_task').on(t.taskId, t.id),
    index('journal_by_change').on(t.change),
    index('journal_undoes')
      .on(t.undoes)
      .where(sql`undoes is not null`),
  ],
)

/** Instants at which the engine has something to do; `key` is what each is for, once. */
export const alarms = sqliteTable(
  'alarms',
  {
    id: integer().primaryKey(),
    at: integer().notNull(),
    kind: text().notNull(),
    key: text().notNull(),
    ruleId: integer(),
    seriesId: integer(),
    taskId: integer(),
    rung: integer(),
  },
  (t) => [
    uniqueIndex('alarms_once').on(t.key),
    index('alarms_due').on(t.at, t.id),
    index('alarms_by_rule').on(t.ruleId),
    index('alarms_by_task').on(t.taskId),
  ],
)

/** How far each reader of the journal has come. */
export const positions = sqliteTable('positions', {
  id: integer().primaryKey(),
  name: text().notNull().unique(),
  journalId: integer().notNull(),
})

/** Effects outside the database, waiting to be sent. `state`: waiting, sent or failed. */
export const outbox = sqliteTable(
  'outbox',
  {
    id: integer().primaryKey(),
    key: text().notNull(),
    recipient: text().notNull(),
    subject: text().notNull(),
    body: text().notNull(),
    state: text().notNull().default('waiting'),
    attempts: integer().notNull().default(0),
    nextAt: integer().notNull(),
    lastError: text(),
    createdAt: integer().notNull(),
    sentAt: integer(),
  },
  (t) => [uniqueIndex('outbox_once').on(t.key), index('outbox_waiting').on(t.state, t.nextAt)],
)

/** What Fernwick told a person. */
export const notices = sqliteTable(
  'notices',
  {
    id: integer().primaryKey(),
    personId: integer()
      .notNull()
      .references(() => people.id),
    kind: text().notNull(),
    body: text().notNull(),
    taskId: integer(),
    runId: integer(),
    at: integer().notNull(),
    readAt: integer(),
  },
  (t) => [index('notices_by_person').on(t.personId, t.at)],
)
