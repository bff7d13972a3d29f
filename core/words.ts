/** The words that items are described by. */

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

/** How a project stands. Null in data: judged by its dates. */
export const HEALTHS = ['steady', 'watch', 'trouble'] as const
export type Health = (typeof HEALTHS)[number]
export const HEALTH_NAMES: Readonly<Record<Health, string>> = {
  steady: 'Steady',
  watch: 'Keep an eye on it',
  trouble: 'In trouble',
}

/** How far a project is while it is not finished: all but one that runs stand still. */
export const PROJECT_STATES = ['proposed', 'running', 'hold'] as const
export type ProjectState = (typeof PROJECT_STATES)[number]
/** What they are called where the firm has no names of its own. */
export type ProjectNames = Readonly<Record<ProjectState | 'finished', string>>
export const PROJECT_STATE_NAMES: ProjectNames = {
  proposed: 'Proposed',
  running: 'Running',
  hold: 'On hold',
  finished: 'Finished',
}

/** What a person may do here; the last two are guests. */
export const ACCESS = ['owner', 'manager', 'member', 'contractor', 'client'] as const
export type Access = (typeof ACCESS)[number]

/** What a client is. */
export const CLIENT_KINDS = ['organisation', 'person'] as const
export type ClientKind = (typeof CLIENT_KINDS)[number]
export const TIERS = ['gold', 'silver', 'bronze'] as const
export type Tier = (typeof TIERS)[number]

/** Whether a task that several share is done when any one is, or when all are. */
export const DONE_BY = ['any', 'all'] as const

/** Kinds of thing that alarms, runs, notices and the journal speak of, by kind and number. */
export const ITEM_KINDS = [
  'task',
  'project',
  'series',
  'rule',
  'template',
  'client',
  'team',
] as const
export type ItemKind = (typeof ITEM_KINDS)[number]

/** Who sees a project: everybody inside, its team, or those named alone. */
export const AUDIENCES = ['firm', 'team', 'named'] as const
export type Audience = (typeof AUDIENCES)[number]
/** Teams that members join as they like, ask to join, or do not know of. */
export const TEAM_KINDS = ['open', 'ask', 'closed'] as const
export type TeamKind = (typeof TEAM_KINDS)[number]
/**
 * What somebody may do with what they see, each with all before it. `work` is what a guest may do on
 * a task that is with them: say how far it is, tick, file.
 */
export const LEVELS = ['view', 'comment', 'work', 'edit', 'structure'] as const
export type Level = (typeof LEVELS)[number]
/** The levels that something can be shared at; guests are not given its structure. */
export const SHARED = ['view', 'comment', 'edit', 'structure'] as const
export type SharedLevel = (typeof SHARED)[number]
/** What a token may do: read, change work as members do, and what managers alone do. */
export const SCOPES = ['read', 'write', 'manage'] as const
export type Scope = (typeof SCOPES)[number]
/** Who reads the values of a field of one’s own. */
export const READERS = ['everyone', 'members', 'managers'] as const
export type Readers = (typeof READERS)[number]
