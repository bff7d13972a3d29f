/**
 * Lists of words that both sides choose from; free of schemas, so that the interface can carry
 * them.
 */

/** The kinds of state; a firm's own named states are each of one kind. */
export const STATES = [
  'not-started',
  'under-way',
  'waiting',
  'in-review',
  'done',
  'dropped',
] as const
export type State = (typeof STATES)[number]
/** The kinds as they are said. */
export const STATE_NAMES: Readonly<Record<State, string>> = {
  'not-started': 'Not started',
  'under-way': 'Under way',
  waiting: 'Waiting',
  'in-review': 'In review',
  done: 'Done',
  dropped: 'Dropped',
}

export const PRIORITIES = ['low', 'normal', 'high', 'urgent'] as const
export type Priority = (typeof PRIORITIES)[number]
export const PRIORITY_NAMES: Readonly<Record<Priority, string>> = {
  low: 'Low',
  normal: 'Normal',
  high: 'High',
  urgent: 'Urgent',
}

/** What conditions of a rule on tasks may ask about. */
export const FACTS = [
  'priority',
  'state',
  'client',
  'client tier',
  'project',
  'estimate',
  'assignees',
] as const

/** What a copy of a task can take along. */
export const COPIES = [
  'description',
  'assignees',
  'followers',
  'tags',
  'fields',
  'dates',
  'checklist',
  'subtasks',
  'files',
] as const
export type Copies = (typeof COPIES)[number]
export const COPY_NAMES: Readonly<Record<Copies, string>> = {
  description: 'Description',
  assignees: 'People on it',
  followers: 'Followers',
  tags: 'Tags',
  fields: 'Fields',
  dates: 'Dates',
  checklist: 'Checklist, unticked',
  subtasks: 'Subtasks',
  files: 'Files and links',
}

/** How a project stands. Null in data: judged by its dates. */
export const HEALTHS = ['steady', 'watch', 'trouble'] as const
export type Health = (typeof HEALTHS)[number]
export const HEALTH_NAMES: Readonly<Record<Health, string>> = {
  steady: 'Steady',
  watch: 'Keep an eye on it',
  trouble: 'In trouble',
}

/** What a person may do here; the last two are guests. */
export const ACCESS = ['owner', 'manager', 'member', 'contractor', 'client'] as const
export type Access = (typeof ACCESS)[number]

export const TIERS = ['gold', 'silver', 'bronze'] as const
export type Tier = (typeof TIERS)[number]

/** Who may put a task into a state. */
export const STATE_SETTERS = ['anyone', 'lead', 'manager'] as const
export type StateSetter = (typeof STATE_SETTERS)[number]

/** Whether a task that several share is done when any one is, or when all are. */
export const DONE_BY = ['any', 'all'] as const
export type DoneBy = (typeof DONE_BY)[number]

/** Kinds of thing that alarms, runs, notices and the journal speak of, by kind and number. */
export const ITEM_KINDS = ['task', 'project', 'series', 'rule', 'template', 'client'] as const
export type ItemKind = (typeof ITEM_KINDS)[number]

/** What a run of a rule or a series came to. */
export const OUTCOMES = ['done', 'skipped', 'failed'] as const
export type Outcome = (typeof OUTCOMES)[number]

/** What the engine can be woken for. */
export const ALARM_KINDS = ['ladder', 'repeat', 'series'] as const
export type AlarmKind = (typeof ALARM_KINDS)[number]

/** Why a person is told something. */
export const NOTICE_KINDS = [
  'assigned',
  'comment',
  'mention',
  'follow',
  'reminder',
  'escalation',
  'rule',
] as const
export type NoticeKind = (typeof NOTICE_KINDS)[number]
