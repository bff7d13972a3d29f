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
  ChangeId,
  ClientId,
  IsoDate,
  LocalStamp,
  OccurrenceId,
  PersonId,
  ProjectId,
  RuleId,
  SeriesId,
  StateSetId,
  TaskId,
  TemplateId,
} from '#core/brands.ts'
import type { Template } from '#core/templates/template.ts'
import type { Audited, Makes, SeriesSchedule, SeriesWays } from '#contract/series.ts'
import type { Value } from '#core/fields/types.ts'
import type { Deed, RuleDefinition } from '#contract/rules.ts'
import type { Group } from '#core/conditions/condition.ts'
import { ITEM_KINDS, OCCURRENCE_STATES, OUTCOMES } from '#contract/words.ts'
import { flag, id, instant, json, version } from './columns.ts'
import { clients, people } from './people.ts'
import { projects, tasks } from './work.ts'

/** The newest version of each template. */
export const templates = sqliteTable('templates', {
  id: id<'template'>(),
  name: text().notNull(),
  version: version(),
  definition: json<Template>().notNull(),
  /** The set of states its projects use; null for the firm's own. */
  stateSetId: integer().$type<StateSetId>(),
  updatedAt: instant().notNull(),
  /** Kept, and nothing is started from it any more. */
  archivedAt: instant(),
})

/** Every version a template has had, derived; projects name the one they were started from. */
export const templateVersions = sqliteTable(
  'templateVersions',
  {
    id: id<'template version'>(),
    templateId: integer()
      .notNull()
      .$type<TemplateId>()
      .references(() => templates.id, { onDelete: 'cascade' }),
    version: integer().notNull(),
    definition: json<Template>().notNull(),
    at: instant().notNull(),
  },
  (t) => [uniqueIndex('templateVersions_once').on(t.templateId, t.version)],
)

/**
 * Series. An occurrence is made `leadDays` working days before its date. `reached` is the scheduled
 * time of the last occurrence dealt with, null before the first; those after `since` are of the
 * schedule as it stands, each of them dealt with once.
 */
export const series = sqliteTable('series', {
  id: id<'series'>(),
  name: text().notNull(),
  makes: json<Makes>().notNull(),
  schedule: json<SeriesSchedule>().notNull(),
  leadDays: integer().notNull().default(0),
  ways: json<SeriesWays>().notNull().default({}),
  clientId: integer()
    .$type<ClientId>()
    .references(() => clients.id),
  ownerId: integer()
    .$type<PersonId>()
    .references(() => people.id),
  on: flag().notNull().default(true),
  reached: text().$type<LocalStamp>(),
  since: text().$type<LocalStamp>(),
  endedAt: instant(),
  version: version(),
  createdAt: instant().notNull(),
  /** Kept, paused, and out of the list. */
  archivedAt: instant(),
})

/**
 * What became of the dates of series: the unique key is why each is dealt with once. What follows a
 * completion is known by the occurrence that it follows (0: it follows none), what an event brought by
 * that; `clientId` is for whom, where that comes of the event. `madeAt` is when that
 * was settled, made or not; `why` says why it was not.
 */
export const occurrences = sqliteTable(
  'occurrences',
  {
    id: id<'occurrence'>(),
    seriesId: integer()
      .notNull()
      .$type<SeriesId>()
      .references(() => series.id),
    scheduled: text().notNull().$type<LocalStamp>(),
    date: text().notNull().$type<LocalStamp>(),
    state: text({ enum: OCCURRENCE_STATES }).notNull().default('made'),
    why: text().notNull().default(''),
    follows: integer().notNull().default(0).$type<OccurrenceId>(),
    event: text(),
    clientId: integer().$type<ClientId>(),
    projectId: integer().$type<ProjectId>(),
    taskId: integer().$type<TaskId>(),
    madeAt: instant().notNull(),
  },
  (t) => [
    uniqueIndex('occurrences_once').on(t.seriesId, t.scheduled, t.follows),
    uniqueIndex('occurrences_follow_once')
      .on(t.seriesId, t.follows)
      .where(sql`follows <> 0`),
    uniqueIndex('occurrences_event_once')
      .on(t.seriesId, t.event)
      .where(sql`event is not null`),
    index('occurrences_by_date').on(t.date),
    index('occurrences_of_series').on(t.seriesId, t.id),
    index('occurrences_held')
      .on(t.seriesId)
      .where(sql`state = 'held'`),
  ],
)

/** What people decided about single dates of a series: where it falls instead; null, it is left out. */
export const seriesDates = sqliteTable(
  'seriesDates',
  {
    id: id<'series date'>(),
    seriesId: integer()
      .notNull()
      .$type<SeriesId>()
      .references(() => series.id, { onDelete: 'cascade' }),
    scheduled: text().notNull().$type<LocalStamp>(),
    date: text().$type<LocalStamp>(),
  },
  (t) => [uniqueIndex('seriesDates_once').on(t.seriesId, t.scheduled)],
)

/** What a nightly look over all series found: what became of each of their dates, and what is wrong. */
export const seriesAudits = sqliteTable('seriesAudits', {
  id: id<'series audit'>(),
  day: text().notNull().unique().$type<IsoDate>(),
  at: instant().notNull(),
  found: json<Audited>().notNull(),
})

/** Rules. `failures` counts failed runs in a row. */
export const rules = sqliteTable('rules', {
  id: id<'rule'>(),
  name: text().notNull(),
  on: flag().notNull().default(true),
  ownerId: integer()
    .$type<PersonId>()
    .references(() => people.id),
  definition: json<RuleDefinition>().notNull(),
  pausedBecause: text(),
  failures: integer().notNull().default(0),
  /** What was late when it was switched on, or changed, is not acted on; null: that too. */
  since: instant(),
  version: version(),
  updatedAt: instant().notNull(),
})

/** Rules that are switched off in one project, and at work elsewhere. */
export const ruleOffs = sqliteTable(
  'ruleOffs',
  {
    id: id<'rule off'>(),
    ruleId: integer()
      .notNull()
      .$type<RuleId>()
      .references(() => rules.id, { onDelete: 'cascade' }),
    projectId: integer()
      .notNull()
      .$type<ProjectId>()
      .references(() => projects.id, { onDelete: 'cascade' }),
  },
  (t) => [
    uniqueIndex('ruleOffs_once').on(t.ruleId, t.projectId),
    index('ruleOffs_by_project').on(t.projectId),
  ],
)

/** Of which tasks what a rule asks holds, where it acts when that becomes true. */
export const holding = sqliteTable(
  'holding',
  {
    id: id<'holding'>(),
    ruleId: integer()
      .notNull()
      .$type<RuleId>()
      .references(() => rules.id, { onDelete: 'cascade' }),
    taskId: integer()
      .notNull()
      .$type<TaskId>()
      .references((): AnySQLiteColumn => tasks.id, { onDelete: 'cascade' }),
  },
  (t) => [
    uniqueIndex('holding_once').on(t.ruleId, t.taskId),
    index('holding_by_task').on(t.taskId),
  ],
)

/** Who of a team was last to get work of a rule, where its members take turns; by both numbers. */
export const turns = sqliteTable('turns', {
  id: text().primaryKey(),
  personId: integer().notNull().$type<PersonId>(),
})

/**
 * Runs that wait, each until its alarm of the same key: what they are of, as it was when they began,
 * and which of its actions they go on after.
 */
export const waits = sqliteTable(
  'waits',
  {
    id: id<'wait'>(),
    key: text().notNull(),
    /** The key of the run that waits, the same for all its legs. */
    run: text().notNull(),
    leg: integer().notNull(),
    ruleId: integer().notNull().$type<RuleId>(),
    version: integer().notNull(),
    conditions: json<Group>().notNull(),
    deeds: json<readonly Deed[]>().notNull(),
    after: integer().notNull(),
    /** What the run log calls it. */
    name: text().notNull(),
    /** What fields were before the change that it was woken by. */
    was: json<Readonly<Record<string, Value>>>().notNull(),
    /** What the legs before did, as changes: one taken back ends it. */
    changes: json<readonly ChangeId[]>().notNull(),
    causeId: integer(),
    depth: integer().notNull(),
    at: instant().notNull(),
  },
  (t) => [uniqueIndex('waits_once').on(t.key), index('waits_by_rule').on(t.ruleId)],
)

/** A line of why a run came to be or was left; guarded where it tells what only managers read. */
export type Said = string | { readonly guarded: string }

/**
 * The run log: what rules and series did or did not do to an item, and why. `key` makes each run
 * happen once.
 */
export const runs = sqliteTable(
  'runs',
  {
    id: id<'run'>(),
    key: text().notNull(),
    ruleId: integer().$type<RuleId>(),
    seriesId: integer().$type<SeriesId>(),
    version: integer(),
    itemKind: text({ enum: ITEM_KINDS }),
    itemId: integer(),
    outcome: text({ enum: OUTCOMES }).notNull(),
    /** How often the same was said of it; the newest time stands. */
    times: integer().notNull().default(1),
    summary: text().notNull(),
    reasons: json<readonly Said[]>().notNull(),
    at: instant().notNull(),
    /** What it changed, as one change; null where it only told somebody, or did nothing. */
    change: integer().$type<ChangeId>(),
    /** The entry of the journal that led to it; null where time did. */
    causeId: integer(),
    /** How long it took, in microseconds; null where that was not looked at. */
    took: integer(),
  },
  (t) => [
    uniqueIndex('runs_once').on(t.key),
    index('runs_by_time').on(t.at),
    index('runs_by_rule').on(t.ruleId, t.at),
    index('runs_of_rule').on(t.ruleId, t.id),
    index('runs_by_outcome').on(t.outcome, t.id),
    index('runs_skipped')
      .on(t.at)
      .where(sql`outcome = 'skipped'`),
    index('runs_by_item').on(t.itemKind, t.itemId),
  ],
)
