import type { Reason } from '#core/access/reach.ts'
import type { Audience, Level, SharedLevel, TeamKind } from '#contract/words.ts'

/** What is said of who sees what, and may do what, once for all pages. */

export const AUDIENCE_LIST: readonly { value: Audience; name: string }[] = [
  { value: 'firm', name: 'Everybody inside' },
  { value: 'team', name: 'A team' },
  { value: 'named', name: 'Those named' },
]
/** What each level lets somebody do. */
export const MAY: Readonly<Record<Level, string>> = {
  view: 'look',
  comment: 'look and comment',
  work: 'say how far it is',
  edit: 'change the work',
  structure: 'change everything',
}
/** The levels as one shares something. */
export const SHARE_LIST: readonly { value: SharedLevel; title: string }[] = [
  { value: 'view', title: 'to look' },
  { value: 'comment', title: 'to look and comment' },
  { value: 'edit', title: 'to change the work' },
  { value: 'structure', title: 'to change everything' },
]
/** Why somebody sees something. */
export const WHY: Readonly<Record<Reason, string>> = {
  owner: 'owns the firm',
  manager: 'is a manager',
  lead: 'leads it',
  firm: 'it is for everybody inside',
  team: 'is in its team',
  shared: 'it is shared with them',
  client: 'its client is shared with them',
  phase: 'its phase is shared with them',
  assigned: 'is on it',
}
export const TEAM_KIND_LIST: readonly { value: TeamKind; title: string }[] = [
  { value: 'open', title: 'Open: anyone inside joins' },
  { value: 'ask', title: 'For asking: who is in it lets others in' },
  { value: 'closed', title: 'Closed: nobody else knows of it' },
]
export const TEAM_KIND_NAMES: Readonly<Record<TeamKind, string>> = {
  open: 'open',
  ask: 'for asking',
  closed: 'closed',
}
