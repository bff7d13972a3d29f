import {
  index,
  integer,
  sqliteTable,
  text,
  uniqueIndex,
  type AnySQLiteColumn,
} from 'drizzle-orm/sqlite-core'
import type { ClientId, ClientStateId, IsoDate, PersonId, TeamId } from '#core/brands.ts'
import type { Weekday } from '#core/calendar/calendar.ts'
import type { DateWays, Ways } from '#contract/desks.ts'
import {
  ACCESS,
  CLIENT_KINDS,
  MAIL_SECURITY,
  TEAM_KINDS,
  TIERS,
  type ProjectNames,
  type Scope,
  FEED_KINDS,
} from '#contract/words.ts'
import { flag, id, instant, json } from './columns.ts'

/** Minutes of work on each weekday. */
export type Hours = Partial<Record<Weekday, number>>

/** For how many days records are kept; for good where nothing is given. */
export interface Retention {
  readonly journal?: number
  readonly runs?: number
  readonly notices?: number
  readonly mail?: number
}

/**
 * The firm: always the one row with id 1. `country` (ISO 3166-1) and `region` (ISO 3166-2, without the
 * country) say where its holidays come from; `currency` is ISO 4217.
 */
export const firm = sqliteTable('firm', {
  id: id<'firm'>(),
  name: text().notNull(),
  zone: text().notNull(),
  week: json<readonly Weekday[]>().notNull(),
  hours: json<Hours>().notNull(),
  demo: flag().notNull().default(false),
  country: text(),
  region: text(),
  currency: text().notNull().default('GBP'),
  retention: json<Retention>().notNull().default({}),
  dates: json<Partial<DateWays>>().notNull().default({}),
  /** What it calls the states of a project, where not as usual. */
  projectNames: json<Partial<ProjectNames>>().notNull().default({}),
  /** What people open, and how many proxies stand in front; null: as the server was told. */
  address: text(),
  proxies: integer(),
  /** Whoever is not a guest signs in with a code from a second device as well. */
  demandsCodes: flag().notNull().default(false),
  /** Since when nothing happens by itself; null while the clockwork goes. */
  stoppedAt: instant(),
})

/** The mail server of the firm, with what opens it: the one row with id 1, never journalled. */
export const mailServer = sqliteTable('mailServer', {
  id: integer().primaryKey(),
  host: text().notNull(),
  port: integer().notNull(),
  security: text({ enum: MAIL_SECURITY }).notNull(),
  user: text().notNull().default(''),
  password: text().notNull().default(''),
  /** Who mails are from: an address, with a name before it or not. */
  from: text().notNull(),
})

export const holidays = sqliteTable('holidays', {
  id: id<'holiday'>(),
  date: text().notNull().$type<IsoDate>(),
  name: text().notNull(),
  half: flag().notNull().default(false),
  /** Entered in the firm: it stays when the firm goes by the holidays of another place. */
  own: flag().notNull().default(false),
})

/** Members and guests. `hours` are those of the firm where they are null. */
export const people = sqliteTable(
  'people',
  {
    id: id<'person'>(),
    name: text().notNull(),
    email: text().notNull(),
    access: text({ enum: ACCESS }).notNull(),
    title: text().notNull().default(''),
    hours: json<Hours>(),
    clientId: integer()
      .$type<ClientId>()
      .references(() => clients.id),
    passwordHash: text(),
    active: flag().notNull().default(true),
    /** Whom they answer to. */
    managerId: integer()
      .$type<PersonId>()
      .references((): AnySQLiteColumn => people.id),
    /** How they like dates, moments and colours; as the firm, or the device, where it is not said. */
    ways: json<Partial<Ways>>(),
    /** The bytes of their photo, by digest. */
    photo: text(),
    /** Who acts for them while they are away. */
    standInId: integer()
      .$type<PersonId>()
      .references((): AnySQLiteColumn => people.id),
  },
  (t) => [uniqueIndex('people_by_email').on(t.email)],
)

/** Teams; who is in a closed one, and that there is one, only they and managers know. */
export const teams = sqliteTable('teams', {
  id: id<'team'>(),
  name: text().notNull(),
  kind: text({ enum: TEAM_KINDS }).notNull().default('open'),
})

export const teamMembers = sqliteTable(
  'teamMembers',
  {
    id: id<'team member'>(),
    teamId: integer()
      .notNull()
      .$type<TeamId>()
      .references(() => teams.id, { onDelete: 'cascade' }),
    personId: integer()
      .notNull()
      .$type<PersonId>()
      .references(() => people.id),
  },
  (t) => [
    uniqueIndex('teamMembers_once').on(t.teamId, t.personId),
    index('teamMembers_by_person').on(t.personId, t.teamId),
  ],
)

/** Who asks to be let into a team. */
export const teamAsks = sqliteTable(
  'teamAsks',
  {
    id: id<'team ask'>(),
    teamId: integer()
      .notNull()
      .$type<TeamId>()
      .references(() => teams.id, { onDelete: 'cascade' }),
    personId: integer()
      .notNull()
      .$type<PersonId>()
      .references(() => people.id),
    at: instant().notNull(),
  },
  (t) => [uniqueIndex('teamAsks_once').on(t.teamId, t.personId)],
)

export const timeOff = sqliteTable(
  'timeOff',
  {
    id: id<'time off'>(),
    personId: integer()
      .notNull()
      .$type<PersonId>()
      .references(() => people.id),
    firstDay: text().notNull().$type<IsoDate>(),
    lastDay: text().notNull().$type<IsoDate>(),
    reason: text().notNull().default(''),
    /** Half of each day alone, or so many minutes of it; else all of it. */
    half: flag().notNull().default(false),
    minutes: integer(),
  },
  (t) => [
    index('timeOff_by_person').on(t.personId, t.lastDay),
    index('timeOff_by_end').on(t.lastDay),
  ],
)

/** Where clients can stand, in the firm's own words and order; new ones begin in the `first`. */
export const clientStates = sqliteTable('clientStates', {
  id: id<'client state'>(),
  name: text().notNull(),
  colour: text().notNull(),
  first: flag().notNull().default(false),
  position: integer().notNull(),
})

export const clients = sqliteTable('clients', {
  id: id<'client'>(),
  name: text().notNull(),
  short: text().notNull(),
  tier: text({ enum: TIERS }).notNull().default('silver'),
  kind: text({ enum: CLIENT_KINDS }).notNull().default('organisation'),
  email: text().notNull().default(''),
  phone: text().notNull().default(''),
  website: text().notNull().default(''),
  address: text().notNull().default(''),
  notes: text().notNull().default(''),
  /** Who looks after it. */
  leadId: integer()
    .$type<PersonId>()
    .references((): AnySQLiteColumn => people.id),
  stateId: integer()
    .$type<ClientStateId>()
    .references(() => clientStates.id),
})

/** Who usually fills a role in what is done for a client; roles are known by what they are called. */
export const clientRoles = sqliteTable(
  'clientRoles',
  {
    id: id<'client role'>(),
    clientId: integer()
      .notNull()
      .$type<ClientId>()
      .references(() => clients.id, { onDelete: 'cascade' }),
    role: text().notNull(),
    personId: integer()
      .notNull()
      .$type<PersonId>()
      .references(() => people.id),
  },
  (t) => [uniqueIndex('clientRoles_once').on(t.clientId, t.role)],
)

/** Signed-in browsers; the id is a digest of the cookie's secret. */
export const sessions = sqliteTable('sessions', {
  id: text().primaryKey(),
  personId: integer()
    .notNull()
    .$type<PersonId>()
    .references(() => people.id),
  createdAt: instant().notNull(),
  expiresAt: instant().notNull(),
})

/**
 * Invitations that were not taken up yet, one of a person at most; the id is a digest of the secret in
 * its link, which opens once and until it runs out.
 */
export const invitations = sqliteTable('invitations', {
  id: text().primaryKey(),
  personId: integer()
    .notNull()
    .unique()
    .$type<PersonId>()
    .references(() => people.id, { onDelete: 'cascade' }),
  createdAt: instant().notNull(),
  expiresAt: instant().notNull(),
})

/** Links by which somebody who forgot their password sets another; as invitations, but for an hour. */
export const passwordResets = sqliteTable('passwordResets', {
  id: text().primaryKey(),
  personId: integer()
    .notNull()
    .unique()
    .$type<PersonId>()
    .references(() => people.id, { onDelete: 'cascade' }),
  expiresAt: instant().notNull(),
})

/**
 * Second devices that make codes (RFC 6238): the secret in base 32, the step of the last code that
 * was taken, so that none is taken twice; not in force until a first code was right.
 */
export const secondFactors = sqliteTable('secondFactors', {
  /** Whose it is. */
  id: integer()
    .primaryKey()
    .$type<PersonId>()
    .references(() => people.id, { onDelete: 'cascade' }),
  secret: text().notNull(),
  since: instant(),
  lastStep: integer().notNull().default(0),
})
/** Codes for who has lost the device, each good once; the id is a digest. */
export const recoveryCodes = sqliteTable(
  'recoveryCodes',
  {
    id: text().primaryKey(),
    personId: integer()
      .notNull()
      .$type<PersonId>()
      .references(() => people.id, { onDelete: 'cascade' }),
  },
  (t) => [index('recoveryCodes_by_person').on(t.personId)],
)

/**
 * By which programs ask in somebody's name; kept when they have ended, since the journal names them.
 * The secret itself is kept nowhere.
 */
export const tokens = sqliteTable(
  'tokens',
  {
    id: id<'token'>(),
    personId: integer()
      .notNull()
      .$type<PersonId>()
      .references(() => people.id),
    name: text().notNull(),
    digest: text().notNull(),
    scopes: json<readonly Scope[]>().notNull(),
    createdAt: instant().notNull(),
    /** When it runs out, or was ended before that. */
    endsAt: instant().notNull(),
    /** When it was last used, to the hour. */
    usedAt: instant(),
  },
  (t) => [
    uniqueIndex('tokens_by_digest').on(t.digest),
    index('tokens_by_person').on(t.personId, t.endsAt),
  ],
)

/**
 * Addresses that calendar programs subscribe to: what somebody sees of their own work, a project or a
 * client. Only what an address is known by is kept.
 */
export const feeds = sqliteTable(
  'feeds',
  {
    id: id<'feed'>(),
    personId: integer()
      .notNull()
      .$type<PersonId>()
      .references(() => people.id),
    of: text({ enum: FEED_KINDS }).notNull(),
    /** The project or the client; 0 for one's own work. */
    itemId: integer().notNull().default(0),
    digest: text().notNull(),
    createdAt: instant().notNull(),
    /** When it was last asked, to the hour. */
    usedAt: instant(),
  },
  (t) => [
    uniqueIndex('feeds_by_digest').on(t.digest),
    uniqueIndex('feeds_once').on(t.personId, t.of, t.itemId),
  ],
)

/**
 * Answers to requests that carried an idempotency key, so that a repeated one makes nothing twice.
 * `id` is a digest of who asked and by which key, `request` one of what was asked.
 */
export const idempotency = sqliteTable(
  'idempotency',
  {
    id: text().primaryKey(),
    request: text().notNull(),
    answer: text().notNull(),
    at: instant().notNull(),
  },
  (t) => [index('idempotency_by_time').on(t.at)],
)
