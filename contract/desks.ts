import type { Weekday } from '#core/calendar/calendar.ts'
import type { PersonRef } from './common.ts'
import type { TodayGroup } from '#core/query/due-groups.ts'
import type { CustomField, StateRow, TagRow } from './fields.ts'
import type { TaskRow } from './tasks.ts'
import type {
  Access,
  Audience,
  Health,
  ItemKind,
  NoticeKind,
  ProjectNames,
  ProjectState,
  TeamKind,
  Tier,
} from './words.ts'

/** How dates and times are written and picked: the day weeks begin on, hours by 12 or 24. */
export interface DateWays {
  readonly first: Weekday
  readonly clock: 12 | 24
}

/** How somebody likes dates, moments and colours; null: as the firm has it, or the device. */
export interface Ways {
  readonly zone: string | null
  readonly first: Weekday | null
  readonly clock: 12 | 24 | null
  readonly theme: 'light' | 'dark' | null
  /** Hours in which one is not reminded; what falls into them comes when they end. */
  readonly quiet: { readonly from: string; readonly to: string } | null
}

export interface Me extends PersonRef {
  readonly access: Access
  readonly title: string
  readonly firm: string
  readonly today: string
  readonly now: number
  readonly zone: string
  readonly dates: DateWays
  /** Their own ways; `zone` and `dates` above are what comes of them and of the firm’s. */
  readonly ways: Ways
  readonly firmDates: DateWays
  /** What the firm calls the states of a project. */
  readonly projectNames: ProjectNames
  readonly demo: boolean
  /** The firm asks for a code from a second device, and there is none yet: nothing else is open. */
  readonly lacksCode: boolean
  readonly unread: number
  readonly may: { structure: boolean; member: boolean }
}

/** One day of the ribbon: minutes of load and capacity, tasks due, and what kind of day it is. */
export interface RibbonDay {
  readonly date: string
  readonly due: number
  readonly late: number
  readonly booked: number
  readonly expected: number
  readonly capacity: number
  readonly rest: string | null
}

/** A day of the firm's calendar that is a holiday, or half of one. */
export interface Holiday {
  readonly date: string
  readonly name: string
  readonly half: boolean
}

export { TODAY_GROUPS, type TodayGroup } from '#core/query/due-groups.ts'

export interface LooseEnd {
  readonly kind:
    'no-date' | 'no-owner' | 'unfilled' | 'stopped' | 'rule-paused' | 'skipped' | 'mail-failed'
  readonly text: string
  readonly count: number
  readonly tasks: readonly { id: number; title: string }[]
  readonly link: string | null
}

export interface Waiting {
  readonly kind: 'review' | 'escalation'
  readonly text: string
  readonly at: number
  readonly task: { id: number; title: string; version: number }
  readonly noticeId: number | null
}

export interface TodaySheet {
  readonly today: string
  readonly capacity: number
  readonly groups: Readonly<Record<TodayGroup, readonly TaskRow[]>>
  readonly doneToday: number
  readonly waiting: readonly Waiting[]
  readonly loose: readonly LooseEnd[]
}

export interface ProjectRow {
  readonly id: number
  readonly name: string
  readonly client: { id: number; name: string; short: string } | null
  readonly lead: PersonRef | null
  readonly anchor: string | null
  /** Whether its date is where it begins or where it must end. */
  readonly anchorIs: 'start' | 'deadline'
  readonly template: { id: number; name: string; version: number } | null
  readonly series: { id: number; name: string } | null
  readonly open: number
  readonly done: number
  /** Share of effort done, 0 to 1; tasks without an estimate count as half an hour. */
  readonly progress: number
  readonly late: number
  readonly nextDue: string | null
  readonly closedAt: number | null
  readonly archivedAt: number | null
  /** How far it is while it is not finished, and since when it is on hold. */
  readonly state: ProjectState
  readonly heldOn: string | null
  /** What kind of work it is, in the firm’s own words. */
  readonly category: string
  /** How it stands: set by hand with a reason, or judged by its dates. */
  readonly health: { value: Health; reason: string; byHand: boolean }
  /** Who sees it besides managers, its lead and those it is shared with. */
  readonly audience: Audience
}
export interface PersonRow extends PersonRef {
  readonly access: Me['access']
  readonly title: string
  readonly active: boolean
  /** Their photo, by its digest: another one is another picture. */
  readonly photo?: string
  /** Away for the whole of today: the last day of it. */
  readonly awayUntil?: string
}
/** What there is to choose from; of projects, those that run. */
export interface Directory {
  readonly people: readonly PersonRow[]
  /** Those that one may know of. */
  readonly teams: readonly {
    id: number
    name: string
    kind: TeamKind
    members: readonly number[]
  }[]
  readonly clients: readonly { id: number; name: string; short: string; tier: Tier }[]
  readonly projects: readonly {
    id: number
    name: string
    clientId: number | null
    stateSetId: number
    templateId: number | null
  }[]
  readonly templates: readonly { id: number; name: string }[]
  /** Those that rules make the next of go by events. */
  readonly series: readonly { id: number; name: string; byEvents: boolean }[]
  /** Where clients can stand, in the firm’s order. */
  readonly clientStates: readonly { id: number; name: string; colour: string }[]
  /** States of every set; set 1 is the firm’s own. */
  readonly states: readonly StateRow[]
  readonly tags: readonly TagRow[]
  readonly fields: readonly CustomField[]
}

export interface TrayMail {
  readonly id: string
  readonly at: number
  readonly to: string
  readonly from: string
  readonly subject: string
  readonly body: string
}

export interface NoticeRow {
  readonly id: number
  readonly kind: NoticeKind
  readonly body: string
  /** What it is about. */
  readonly item: { readonly kind: ItemKind; readonly id: number } | null
  readonly at: number
  readonly readAt: number | null
}
