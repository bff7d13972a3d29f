import Joi from 'joi'
import { id, isoDay, isoTime, line, shape, type PersonRef } from './common.ts'
import { mailAddress, newPassword, publicAddress, weekHours, zone, type WeekHours } from './firm.ts'
import type { Ways } from './desks.ts'
import { WEEKDAYS } from '#core/calendar/calendar.ts'
import type { TokenRow } from './tokens.ts'
import { ACCESS, type Access } from './words.ts'

/** Somebody to invite; a client's contact belongs to a client. */
export interface NewPerson {
  name: string
  email: string
  access: Access
  title?: string
  clientId?: number | null
}
/** As many as are invited at once. */
export const MOST_INVITED = 500
export const inviteBody = shape<InviteBody>({
  people: Joi.array()
    .items(
      shape<NewPerson>({
        name: line(120).required(),
        email: mailAddress.required(),
        access: Joi.valid(...ACCESS).required(),
        title: Joi.string().trim().allow('').max(120),
        clientId: id.allow(null),
      }),
    )
    .min(1)
    .max(MOST_INVITED)
    .required(),
  address: publicAddress.required(),
})
export interface InviteBody {
  people: NewPerson[]
  /** Where Fernwick is opened, for the links in the mails; the server’s own setting goes before it. */
  address: string
}
export const againBody = shape<Pick<InviteBody, 'address'>>({
  address: inviteBody.extract('address'),
})
/** Somebody who was invited, and the link that lets them in once. */
export interface Invited {
  readonly id: number
  readonly name: string
  readonly email: string
  readonly link: string
  /** Epoch milliseconds. */
  readonly expiresAt: number
}

/** Somebody of the firm, or a guest of it, as managers see them. */
export interface PersonSheet {
  readonly id: number
  readonly name: string
  readonly email: string
  readonly access: Access
  readonly title: string
  readonly clientId: number | null
  readonly active: boolean
  /** Invited and not yet in: until when the invitation holds; null where there is none. */
  readonly invitedUntil: number | null
  /** Has a password, and so has been in. */
  readonly joined: boolean
  /** Signs in with a code from a second device as well. */
  readonly secondDevice: boolean
  /** Whom they answer to, and who acts for them while they are away. */
  readonly managerId: number | null
  readonly standInId: number | null
}
export const personPatch = shape<PersonPatch>({
  name: line(120),
  title: Joi.string().trim().allow('').max(120),
  access: Joi.valid(...ACCESS),
  active: Joi.boolean(),
  managerId: id.allow(null),
  standInId: id.allow(null),
  hours: weekHours.allow(null),
}).min(1)
export interface PersonPatch {
  name?: string
  title?: string
  access?: Access
  active?: boolean
  managerId?: number | null
  standInId?: number | null
  /** Minutes of each weekday; null: the firm’s. */
  hours?: WeekHours | null
}

/** So many days are the most that one stretch of time off takes. */
export const LONGEST_OFF = 730
/** Days off: whole ones, half of each, or so many minutes of each. */
export interface NewTimeOff {
  firstDay: string
  lastDay: string
  half?: boolean
  minutes?: number | null
  reason?: string
}
export const timeOffBody = shape<NewTimeOff>({
  firstDay: isoDay.required(),
  lastDay: isoDay.required(),
  half: Joi.boolean(),
  minutes: Joi.number().integer().min(1).max(1_440).allow(null),
  reason: Joi.string().trim().allow('').max(120),
})
export type TimeOffRow = Readonly<Required<NewTimeOff>> & { readonly id: number }

/** A person’s page, as managers and they themselves see it. */
export interface PersonPage extends PersonSheet {
  /** Their own minutes of each weekday; null: the firm’s. */
  readonly hours: WeekHours | null
  /** The firm’s, which are theirs where they have none of their own. */
  readonly usual: WeekHours
  /** What is to come, and the last year’s; the soonest first. */
  readonly timeOff: readonly TimeOffRow[]
  /** Who answers to them, and whom they stand in for. */
  readonly answering: readonly PersonRef[]
  readonly standsInFor: readonly PersonRef[]
  /** By which programs ask in their name. */
  readonly tokens: readonly TokenRow[]
}

/** One’s own password, changed: every other browser is signed out. */
export const passwordBody = shape<{ now: string; password: string }>({
  now: Joi.string().min(1).max(200).required(),
  password: newPassword.required(),
})
/** A browser that one is signed in at; instants in epoch milliseconds. */
export interface SessionRow {
  readonly createdAt: number
  readonly expiresAt: number
  /** The one that asks. */
  readonly here: boolean
}
/** One’s second device; `since` in epoch milliseconds, null where there is none. */
export interface SecondFactor {
  readonly since: number | null
  /** Codes on paper that were not used. */
  readonly codesLeft: number
  /** The firm asks for one. */
  readonly demanded: boolean
}
/** What a second device reads: a secret in base 32, and the same with whose it is. */
export interface SecondSecret {
  readonly secret: string
  readonly address: string
}
export const codeBody = shape<{ code: string }>({ code: line(40).required() })
/** Something that asks for one’s password once more. */
export const sureBody = shape<{ password: string }>({
  password: Joi.string().min(1).max(200).required(),
})
export interface MePatch {
  name?: string
  ways?: Ways
}
export const mePatch = shape<MePatch>({
  name: line(120),
  ways: shape<Ways>({
    zone: zone.allow(null).required(),
    first: Joi.valid(...WEEKDAYS)
      .allow(null)
      .required(),
    clock: Joi.valid(12, 24).allow(null).required(),
    theme: Joi.valid('light', 'dark').allow(null).required(),
    quiet: Joi.object({ from: isoTime.required(), to: isoTime.required() })
      .allow(null)
      .default(null),
  }),
}).min(1)

/** Who an invitation is for. */
export interface Invitation {
  readonly firm: string
  readonly name: string
  readonly email: string
}
export const joinFirmBody = shape<{ key: string; password: string }>({
  key: line(100).required(),
  password: newPassword.required(),
})

/** What somebody holds that can be handed over when they leave. */
export const HELD = [
  'tasks',
  'projects',
  'milestones',
  'series',
  'rules',
  'views',
  'answering',
  'standing',
] as const
export type HeldPart = (typeof HELD)[number]
/** What somebody holds of each part: how much, and what the first few are called. */
export type HandOver = readonly {
  readonly part: HeldPart
  readonly count: number
  readonly names: readonly string[]
}[]
/** To whom each part goes; what is given to nobody stays as it is. */
export interface LeaveBody {
  to: Partial<Record<HeldPart, number | null>>
}
export const leaveBody = shape<LeaveBody>({
  to: Joi.object(Object.fromEntries(HELD.map((part) => [part, id.allow(null)]))).required(),
})
/** Who left, and how many things went to others. */
export interface Left {
  readonly person: PersonSheet
  readonly count: number
}
