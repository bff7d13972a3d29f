import type { IsoDate, LocalTime } from '../brands.ts'
import type { DayUnit, Roll } from '../calendar/calendar.ts'

/**
 * Where a date is counted from: the anchor, a phase's start or end, or another task's start or due.
 * `anchor`, `phase:KEY:start`, `phase:KEY:end`, `task:KEY:start`, `task:KEY:due`.
 */
export type OffsetBase = string

/**
 * A lead time (negative) or lag (positive) of so many days from a base, with an optional time of
 * day.
 */
export interface Offset {
  readonly days: number
  readonly unit?: DayUnit
  readonly from?: OffsetBase
  readonly time?: LocalTime
}

/**
 * A reminder that comes with a task, to whoever is on it: so many days before or after its due date,
 * or before its start, at a time of day; once, or every working day until it is done.
 */
export interface PlannedReminder {
  readonly days: number
  readonly unit: DayUnit
  readonly side: 'before' | 'after'
  readonly field: 'due' | 'start'
  readonly time: string
  readonly daily: boolean
}

export interface TemplateTask {
  readonly key: string
  readonly title: string
  readonly description?: string
  /** Key of a role of the template. */
  readonly role?: string
  /** Estimated effort in minutes. */
  readonly effort?: number
  readonly due: Offset
  readonly start?: Offset
  readonly checklist?: readonly string[]
  readonly reminders?: readonly PlannedReminder[]
  /** Made only if the answer to a question is this. */
  readonly onlyIf?: { readonly question: string; readonly is: string | number | boolean }
}

export interface TemplatePhase {
  readonly key: string
  readonly name: string
  readonly tasks: readonly TemplateTask[]
}

/** The model a project is started from, as one version of it holds it. */
export interface Template {
  readonly name: string
  /** What the anchor date of a project means. */
  readonly anchor: 'start' | 'deadline'
  /** How a date that falls on a non-working day is moved; `following` if not given. */
  readonly roll?: Roll
  readonly roles?: readonly { readonly key: string; readonly name: string }[]
  readonly phases: readonly TemplatePhase[]
}

export interface PlannedTask {
  readonly key: string
  readonly title: string
  readonly description: string
  readonly phase: string
  readonly role: string | null
  /** Whoever fills the role; empty where nobody does. */
  readonly assignees: readonly string[]
  readonly start: IsoDate | null
  readonly due: IsoDate
  readonly dueTime: LocalTime | null
  readonly effort: number | null
  readonly checklist: readonly string[]
  /** Left out where there are none. */
  readonly reminders?: readonly PlannedReminder[]
}

/** What to know before starting: each names the tasks (or the role) it is about. */
export type Finding =
  | {
      readonly kind: 'rolled'
      readonly task: string
      readonly field: 'start' | 'due'
      readonly from: IsoDate
      readonly to: IsoDate
      readonly because: string
    }
  | {
      readonly kind: 'away'
      readonly task: string
      readonly person: string
      readonly date: IsoDate
      readonly nextFree: IsoDate
    }
  | { readonly kind: 'past'; readonly task: string; readonly date: IsoDate }
  | { readonly kind: 'unfilled'; readonly role: string; readonly tasks: readonly string[] }
  | { readonly kind: 'start-after-due'; readonly task: string; readonly date: IsoDate }

export interface Plan {
  readonly tasks: readonly PlannedTask[]
  readonly findings: readonly Finding[]
}
