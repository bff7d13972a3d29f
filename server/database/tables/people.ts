import { index, integer, primaryKey, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core'

/** The firm: always the one row with id 1. `week` and `hours` are JSON. */
export const firm = sqliteTable('firm', {
  id: integer().primaryKey(),
  name: text().notNull(),
  zone: text().notNull(),
  week: text().notNull(),
  hours: text().notNull(),
  demo: integer().notNull().default(0),
})

export const holidays = sqliteTable('holidays', {
  id: integer().primaryKey(),
  date: text().notNull(),
  name: text().notNull(),
  half: integer().notNull().default(0),
})

/**
 * Members and guests. `access`: owner, manager, member, contractor or client. `hours`: minutes of
 * each weekday, JSON, null for the firm's.
 */
export const people = sqliteTable(
  'people',
  {
    id: integer().primaryKey(),
    name: text().notNull(),
    email: text().notNull(),
    access: text().notNull(),
    title: text().notNull().default(''),
    hours: text(),
    clientId: integer().references(() => clients.id),
    passwordHash: text(),
    active: integer().notNull().default(1),
  },
  (t) => [uniqueIndex('people_by_email').on(t.email)],
)

export const teams = sqliteTable('teams', { id: integer().primaryKey(), name: text().notNull() })

export const teamMembers = sqliteTable(
  'teamMembers',
  {
    id: integer().primaryKey(),
    teamId: integer()
      .notNull()
      .references(() => teams.id, { onDelete: 'cascade' }),
    personId: integer()
      .notNull()
      .references(() => people.id),
  },
  (t) => [uniqueIndex('teamMembers_once').on(t.teamId, t.personId)],
)

export const timeOff = sqliteTable(
  'timeOff',
  {
    id: integer().primaryKey(),
    personId: integer()
      .notNull()
      .references(() => people.id),
    firstDay: text().notNull(),
    lastDay: text().notNull(),
    reason: text().notNull().default(''),
  },
  (t) => [index('timeOff_by_person').on(t.personId, t.lastDay)],
)

export const clients = sqliteTable('clients', {
  id: integer().primaryKey(),
  name: text().notNull(),
  short: text().notNull(),
  tier: text().notNull().default('silver'),
})

/** Signed-in browsers; the id is a digest of the cookie's secret. */
export const sessions = sqliteTable('sessions', {
  id: text().primaryKey(),
  personId: integer()
    .notNull()
    .references(() => people.id),
  createdAt: integer().notNull(),
  expiresAt: integer().notNull(),
})

/**
 * Answers to requests that carried an idempotency key, so that a repeated one makes nothing twice.
 * A trigger drops those older than two days.
 */
export const idempotency = sqliteTable(
  'idempotency',
  {
    key: text().notNull(),
    personId: integer().notNull(),
    request: text().notNull(),
    answer: text().notNull(),
    at: integer().notNull(),
  },
  (t) => [primaryKey({ columns: [t.personId, t.key] })],
)
