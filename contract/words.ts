/**
 * Lists of words that both sides choose from; free of schemas, so that the interface can carry
 * them.
 */

export * from '#core/words.ts'

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

/** What a task of a series can take from the one before. */
export const CARRIES: readonly Carries[] = [
  'title',
  'estimate',
  'phase',
  ...COPIES.filter((what) => what !== 'dates'),
]
/** What a project of a series can take from the one before. */
export const PROJECT_CARRIES = ['lead', 'roles', 'description', 'fields', 'files'] as const
export type Carries =
  Exclude<Copies, 'dates'> | 'title' | 'estimate' | 'phase' | (typeof PROJECT_CARRIES)[number]
export const CARRY_NAMES: Readonly<Record<Carries, string>> = {
  ...{ title: 'Title', estimate: 'Estimate', phase: 'Phase it stands in' },
  ...{ lead: 'Lead', roles: 'Who did what in the end' },
  ...COPY_NAMES,
}

/** What a field of the firm's own is on. */
export const FIELD_OWNERS = ['task', 'project', 'client'] as const
export type FieldOwner = (typeof FIELD_OWNERS)[number]
export const FIELD_OWNER_NAMES: Readonly<Record<FieldOwner, string>> = {
  task: 'Tasks',
  project: 'Projects',
  client: 'Clients',
}

/** Who may put a task into a state. */
export const STATE_SETTERS = ['anyone', 'lead', 'manager'] as const

/** What a run of a rule or a series came to. */
export const OUTCOMES = ['done', 'skipped', 'failed'] as const
export type Outcome = (typeof OUTCOMES)[number]

/** What a calendar that is subscribed to shows. */
export const FEED_KINDS = ['person', 'project', 'client'] as const
export type FeedKind = (typeof FEED_KINDS)[number]

/** What became of a date of a series. What was moved onto another is made there. */
export const OCCURRENCE_STATES = ['made', 'held', 'missed', 'skipped'] as const
export type OccurrenceState = (typeof OCCURRENCE_STATES)[number]

/** What the engine can be woken for. */
export const ALARM_KINDS = [
  'ladder',
  'placing',
  'repeat',
  'series',
  'wait',
  'again',
  'dated',
  'check',
  'reminder',
] as const
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

/** What a firm keeps records of that grow by themselves. */
export const RECORDS = ['journal', 'runs', 'notices', 'mail'] as const

/** How the line to a mail server is kept from being read: not at all, by STARTTLS, from the start. */
export const MAIL_SECURITY = ['none', 'starttls', 'tls'] as const
export type MailSecurity = (typeof MAIL_SECURITY)[number]
