import { index, integer, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core'
import { clients, people } from './people.ts'

/** The newest version of each template; `definition` is a core Template as JSON. */
export const templates = sqliteTable('templates', {
  id: integer().primaryKey(),
  name: text().notNull(),
  version: integer().notNull().default(1),
  definition: text().notNull(),
  /** The set of states its projects use; null for the firm's own. */
  stateSetId: integer(),
  updatedAt: integer().notNull(),
})

/** Every version a template has had; projects point at the one they were started from. */
export const templateVersions = sqliteTable(
  'templateVersions',
  {
    id: integer().primaryKey(),
    templateId: integer()
      .notNull()
      .references(() => templates.id),
    version: integer().notNull(),
    definition: text().notNull(),
    at: integer().notNull(),
  },
  (t) => [uniqueIndex('templateVersions_once').on(t.templateId, t.version)],
)

/**
 * Series. `makes` is JSON: a project from a template (client, role fillings) or a task. `schedule`
 * is a core
 * Schedule as JSON. An occurrence is made `leadDays` working days before its date. `reached` is the
 * scheduled
 * time of the last occurrence dealt with, null before the first.
 */
export const series = sqliteTable('series', {
  id: integer().primaryKey(),
  name: text().notNull(),
  makes: text().notNull(),
  schedule: text().notNull(),
  leadDays: integer().notNull().default(0),
  clientId: integer().references(() => clients.id),
  ownerId: integer().references(() => people.id),
  on: integer().notNull().default(1),
  reached: text(),
  endedAt: integer(),
  version: integer().notNull().default(1),
  createdAt: integer().notNull(),
})

/** What a series has made: the unique key is why an occurrence is made once. */
export const occurrences = sqliteTable(
  'occurrences',
  {
    id: integer().primaryKey(),
    seriesId: integer()
      .notNull()
      .references(() => series.id),
    scheduled: text().notNull(),
    date: text().notNull(),
    projectId: integer(),
    taskId: integer(),
    madeAt: integer().notNull(),
  },
  (t) => [uniqueIndex('occurrences_once').on(t.seriesId, t.scheduled)],
)

/** Rules; `definition` is JSON (contract/rules.ts). `failures` counts failed runs in a row. */
export const rules = sqliteTable('rules', {
  id: integer().primaryKey(),
  name: text().notNull(),
  on: integer().notNull().default(1),
  ownerId: integer().references(() => people.id),
  definition: text().notNull(),
  pausedBecause: text(),
  failures: integer().notNull().default(0),
  version: integer().notNull().default(1),
  updatedAt: integer().notNull(),
})

/**
 * The run log: what rules and series did or did not do, and why. `key` makes each run happen once.
 */
export const runs = sqliteTable(
  'runs',
  {
    id: integer().primaryKey(),
    key: text().notNull(),
    ruleId: integer(),
    seriesId: integer(),
    version: integer(),
    taskId: integer(),
    projectId: integer(),
    outcome: text().notNull(),
    summary: text().notNull(),
    reasons: text().notNull(),
    at: integer().notNull(),
  },
  (t) => [
    uniqueIndex('runs_once').on(t.key),
    index('runs_by_time').on(t.at),
    index('runs_by_rule').on(t.ruleId, t.at),
  ],
)
