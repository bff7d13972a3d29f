import Joi from 'joi'
import type { AfterSchedule, EventSchedule } from '#core/recurrence/course.ts'
import {
  CATCH_UPS,
  OVERLAPS,
  PERIODS,
  type CatchUpPolicy,
  type OverlapPolicy,
  type Schedule,
} from '#core/recurrence/schedule.ts'
import { ROLLS } from '#core/calendar/calendar.ts'
import type { PlannedReminder } from '#core/templates/template.ts'
import type { ServedPeriod } from '#core/text/merge.ts'
import { fillings, type Filling } from './clockwork.ts'
import { id, isoDay, isoTime, line, shape } from './common.ts'
import { plannedReminders } from './reminders.ts'
import { CARRIES, PROJECT_CARRIES, type Carries, type OccurrenceState } from './words.ts'

/** Series: what they make and when, what became of their dates, and what is decided about them. */

/** What a series makes each time. */
export type Makes =
  | {
      readonly kind: 'project'
      readonly templateId: number
      readonly clientId: number | null
      readonly leadId: number | null
      readonly roles: Record<string, Filling>
      readonly name: string
      readonly period: ServedPeriod
    }
  | {
      readonly kind: 'task'
      readonly title: string
      readonly description: string
      readonly clientId: number | null
      readonly projectId: number | null
      readonly assignees: readonly number[]
      readonly estimate: number | null
      readonly checklist: readonly string[]
      readonly reminders?: readonly PlannedReminder[]
      readonly period: ServedPeriod
      /** The task that it takes after, until it has made one. */
      readonly like?: number
    }

const period = Joi.object({
  of: Joi.valid(...PERIODS).required(),
  which: Joi.valid('before', 'same', 'after').required(),
})

/** When a series has its dates: by the calendar, after the last one was closed, or after events. */
export type SeriesSchedule = Schedule | AfterSchedule | EventSchedule

/** How a series goes about what it makes; what is left out is as usual. */
export interface SeriesWays {
  /** When the one before is still open: make it anyway, where nothing else is said. */
  readonly overlap?: OverlapPolicy
  /** What is made up for once nothing ran for a while: each, where nothing else is said. */
  readonly catchUp?: CatchUpPolicy
  /** The time of day at which it is made. */
  readonly makeTime?: string
  /** Dates that are rolled onto one day are made each, not as one. */
  readonly each?: boolean
  /** Of those it is for, only one gets it: the next in turn, or whoever has the least to do. */
  readonly rota?: (typeof ROTAS)[number]
  /** What is taken from the one before, rather than from here. */
  readonly carries?: readonly Carries[]
  /** What is open in the project before goes into the next one, or is made there again. */
  readonly openTasks?: (typeof OPEN_TASKS)[number]
}
export const OPEN_TASKS = ['move', 'copy'] as const
export const ROTAS = ['turn', 'least'] as const
const ways = Joi.object({
  overlap: Joi.valid(...OVERLAPS),
  catchUp: Joi.valid(...CATCH_UPS),
  makeTime: isoTime,
  each: Joi.boolean(),
  rota: Joi.valid(...ROTAS),
  carries: Joi.array()
    .items(Joi.valid(...CARRIES, ...PROJECT_CARRIES))
    .unique(),
  openTasks: Joi.valid(...OPEN_TASKS),
})

const roll = Joi.valid(...ROLLS)
const ordinal = Joi.object({
  workday: Joi.number().integer().required(),
  of: Joi.valid(...PERIODS).required(),
  count: Joi.number().integer().min(1).max(10_000),
  until: isoDay,
}).oxor('count', 'until')
const scheduled = {
  start: Joi.string().max(19).required(),
  zone: Joi.string().max(60),
}
export const scheduleBody = shape<ScheduleBody>({
  ...scheduled,
  rule: Joi.alternatives(line(500), ordinal).required(),
  exclude: Joi.array().items(Joi.string().max(19)).max(500),
  include: Joi.array().items(Joi.string().max(19)).max(500),
  roll,
})
const afterBody = Joi.object({
  ...scheduled,
  kind: Joi.valid('after-completion', 'after-event').required(),
  wait: Joi.object({
    after: Joi.number().integer().min(0).max(10_000).required(),
    unit: Joi.valid('calendar', 'working', 'week', 'month').required(),
  }).required(),
  roll: roll.default('none'),
  count: Joi.number().integer().min(1).max(10_000),
  until: isoDay,
}).oxor('count', 'until')
const anySchedule = Joi.alternatives().conditional('.kind', {
  is: Joi.exist(),
  then: afterBody,
  otherwise: scheduleBody,
})
type Asked<S> = Omit<S, 'zone' | 'start'> & { start: string; zone?: string }
export type ScheduleBody = Asked<Schedule>
export type AnyScheduleBody = ScheduleBody | Asked<AfterSchedule> | Asked<EventSchedule>
const makes = Joi.alternatives().conditional('.kind', {
  is: 'project',
  then: Joi.object({
    kind: Joi.string(),
    templateId: id.required(),
    clientId: id.allow(null).required(),
    leadId: id.allow(null).required(),
    roles: fillings.required(),
    name: line(160).required(),
    period: period.required(),
  }),
  otherwise: Joi.object({
    kind: Joi.valid('task').required(),
    title: line(200).required(),
    description: Joi.string().allow('').max(20_000).required(),
    clientId: id.allow(null).required(),
    projectId: id.allow(null).required(),
    assignees: Joi.array().items(id).max(30).required(),
    estimate: Joi.number().integer().min(0).max(60_000).allow(null).required(),
    checklist: Joi.array().items(line(200)).max(100).required(),
    reminders: plannedReminders,
    period: period.required(),
    like: id,
  }),
})

/** A schedule whose next dates are asked for, and what for; `series` is the one that is edited. */
export const datesBody = shape<DatesBody>({
  makes,
  series: id,
  schedule: anySchedule.required(),
  ways: ways.default({}),
  leadDays: Joi.number().integer().min(0).max(200).required(),
})
const dateByHand = Joi.object({
  scheduled: Joi.string().max(19).required(),
  date: Joi.string().max(19).allow(null).required(),
})
const seriesShape = {
  name: line(120).required(),
  makes: makes.required(),
  schedule: anySchedule.required(),
  ways: ways.default({}),
  leadDays: Joi.number().integer().min(0).max(200).required(),
  begin: Joi.valid('next'),
}
export const seriesBody = shape<SeriesBody>({
  ...seriesShape,
  from: Joi.string().max(19),
  clients: Joi.array().items(id).unique().max(200),
})
export const bringBody = shape<BringBody>({
  series: Joi.array()
    .items(Joi.object({ ...seriesShape, byHand: Joi.array().items(dateByHand).max(500) }))
    .min(1)
    .max(500)
    .required(),
})
export interface DatesBody {
  makes?: Makes
  series?: number
  schedule: AnyScheduleBody
  ways?: SeriesWays
  leadDays: number
}
export interface SeriesBody {
  name: string
  makes: Makes
  schedule: AnyScheduleBody
  ways?: SeriesWays
  leadDays: number
  /** What would be made at once is passed by: it begins with the date after. */
  begin?: 'next'
  /** Saved for this date of it and all later ones; what comes before stays as it was. */
  from?: string
  /** Made for each of these as well, as a series of its own. */
  clients?: readonly number[]
}

/** What a look over all series found: each of their dates is one of these, or something is wrong. */
export interface Audited {
  readonly series: number
  readonly dates: Readonly<Record<OccurrenceState | 'expected', number>>
  readonly wrong: readonly {
    readonly series: number
    readonly name: string
    /** What is wrong with which date. */
    readonly says: string
  }[]
}
export interface SeriesAudit extends Audited {
  readonly at: number
}

/** A date of a series, by its scheduled time. */
export interface DateOf {
  readonly series: number
  readonly scheduled: string
}
/** One date of a series in a round: how it stands, and what was made of it. */
export interface RoundDate extends DateOf {
  readonly date: string
  readonly stand: Went | 'expected'
  readonly lateBy: number
  readonly why: string
  readonly project: { readonly id: number; readonly name: string } | null
  readonly task: { readonly id: number; readonly title: string } | null
  /** A person moved it. */
  readonly byHand: boolean
}
/** What one kind of work for one client has in a period; `next` is its next date, where it has none. */
export interface RoundCell {
  readonly column: string
  readonly series: readonly { readonly id: number; readonly name: string; readonly on: boolean }[]
  readonly dates: readonly RoundDate[]
  readonly next: string | null
}
/** Clients and what repeats for them, over a period: how this month’s work stands for everyone. */
export interface Round {
  readonly columns: readonly { readonly key: string; readonly name: string }[]
  readonly rows: readonly {
    readonly client: { readonly id: number; readonly name: string } | null
    readonly cells: readonly RoundCell[]
  }[]
}
/** The days that a round is about: a year of them at the most. */
export const roundQuery = shape<{ from: string; to: string }>({
  from: isoDay.required(),
  to: isoDay.required(),
})

/** Work that a series will make: a task, or a project as one. Hours are those of a task, in minutes. */
export interface ExpectedWork extends DateOf {
  /** What its series is called. */
  readonly name: string
  readonly title: string
  readonly start: string | null
  readonly due: string
  readonly dueTime: string | null
  readonly minutes: number | null
  readonly client: { readonly id: number; readonly name: string } | null
  readonly projectId: number | null
  readonly people: readonly number[]
}
export interface ExpectedQuery {
  readonly from: string
  readonly to: string
  readonly of: 'firm' | 'client' | 'project' | 'person'
  readonly id?: number
}
export const expectedQuery = Joi.object<ExpectedQuery>({
  from: isoDay.required(),
  to: isoDay.required(),
  of: Joi.valid('firm', 'client', 'project', 'person').required(),
  id: Joi.number().integer().positive().when('of', { not: 'firm', then: Joi.required() }),
})

/** A recurring event of a file, as a series could have it; or why it cannot. */
export type FoundSeries = { readonly name: string; readonly description: string } & (
  | {
      readonly schedule: Schedule
      /** Dates that were moved, or cancelled. */
      readonly byHand: readonly { readonly scheduled: string; readonly date: string | null }[]
    }
  | { readonly problem: string }
)
export interface SeriesFound {
  readonly series: readonly FoundSeries[]
  readonly notes: readonly string[]
  /** Events that do not come again, and are left. */
  readonly single: number
}
/** Series that are brought in at once. */
export interface BringBody {
  series: readonly (SeriesBody & {
    readonly byHand?: readonly { scheduled: string; date: string | null }[]
  })[]
}

/** What is decided about dates of series: made now, left out, moved to another, or back as it was. */
export interface DecideBody {
  dates: readonly DateOf[]
  deed: (typeof DEEDS)[number]
  /** Where it is moved to; the same for all. */
  to?: string
}
export const DEEDS = ['make', 'skip', 'move', 'back'] as const
const someDates = Joi.array()
  .items(Joi.object({ series: id.required(), scheduled: Joi.string().max(19).required() }))
  .min(1)
  .max(1_000)
  // What is no date is looked at as well, before it is refused.
  .unique((a, b) => a?.series === b?.series && a?.scheduled === b?.scheduled)
  .required()
export const datesOfBody = shape<{ dates: readonly DateOf[] }>({ dates: someDates })
export const decideBody = shape<DecideBody>({
  dates: someDates,
  deed: Joi.valid(...DEEDS).required(),
  to: Joi.string().max(19).when('deed', { is: 'move', then: Joi.required() }),
})
/** Something that was made for a day that is not what it was: other holidays would move it. */
export interface MovedDate extends DateOf {
  readonly date: string
  readonly to: string
  readonly task: { readonly id: number; readonly title: string } | null
  readonly project: { readonly id: number; readonly name: string } | null
}
/** What was done, and what was left with the reason. */
export interface Decided {
  readonly done: number
  readonly left: readonly string[]
}

/**
 * A date of a schedule, as shown beside it; `why` says why it is not the scheduled one. `now`: it is
 * made at once, and so many of its tasks are `late` then.
 */
export interface NextDate {
  readonly scheduled: string
  readonly date: string
  readonly makeOn: string
  readonly why: string | null
  readonly title: string
  readonly now: boolean
  readonly late: number
  /** What else falls on it, and is one with it. */
  readonly joins: readonly string[]
  /** A person moved it. */
  readonly byHand: boolean
  /** Whom it will be for that are away then. */
  readonly away: readonly string[]
}
/** A series as lists show it: `next` is the date it makes something for, null when none is left. */
export interface SeriesSummary {
  readonly id: number
  readonly name: string
  readonly on: boolean
  readonly ended: boolean
  readonly archived: boolean
  readonly version: number
  readonly client: { id: number; name: string } | null
  readonly next: string | null
  /** It comes when a rule says so. */
  readonly byEvents: boolean
  /** Something stands in its way, such as a person who left. */
  readonly troubled: boolean
}
/** How it went with a date: as it stands, or once its work is looked at. */
export type Went =
  | Exclude<OccurrenceState, 'made'>
  | 'on-time'
  | 'late'
  | 'under-way'
  | 'overdue'
  | 'dropped'
  /** Undone, or removed. */
  | 'taken-back'
  /** Made, and not for whoever looks. */
  | 'unseen'
/** A date of a series that was dealt with, and how it went. */
export interface PastDate {
  readonly scheduled: string
  readonly date: string
  readonly at: number
  readonly went: Went
  /** Working days it was finished late, or is late by now. */
  readonly lateBy: number
  readonly why: string
  readonly project: { readonly id: number; readonly name: string } | null
  readonly task: { readonly id: number; readonly title: string } | null
}
export interface SeriesSheet {
  readonly id: number
  readonly name: string
  readonly makes: Makes
  readonly schedule: SeriesSchedule
  readonly ways: SeriesWays
  readonly leadDays: number
  readonly on: boolean
  readonly ended: boolean
  readonly archived: boolean
  readonly version: number
  readonly client: { id: number; name: string } | null
  readonly next: readonly NextDate[]
  readonly made: readonly PastDate[]
  /** The dates of the next half year. */
  readonly ahead: readonly string[]
  /** What a person left out of what is to come. */
  readonly leftOut: readonly string[]
  /** The rules that make the next of it, where it goes by events. */
  readonly rules: readonly { readonly id: number; readonly name: string; readonly on: boolean }[]
  readonly warnings: readonly string[]
}
