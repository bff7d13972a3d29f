import Joi from 'joi'
import { WEEKDAYS } from '#core/calendar/calendar.ts'
import { id, line, shape } from './common.ts'
import type { DateWays } from './desks.ts'
import {
  CUSTOM_KINDS,
  PALETTE,
  type CustomKind,
  type FieldOptions,
  type StateRow,
} from './fields.ts'
import {
  FIELD_OWNERS,
  READERS,
  STATES,
  type FieldOwner,
  type Readers,
  type RECORDS,
  type State,
} from './words.ts'

const colour = Joi.valid(...PALETTE)

/** How a firm sets up what its tasks carry: states, fields, tags. */
export interface StateSetSheet {
  readonly id: number
  readonly name: string
  readonly version: number
  readonly states: readonly (StateRow & { tasks: number })[]
  readonly projects: readonly { id: number; name: string }[]
  readonly templates: readonly { id: number; name: string }[]
}
export interface StateSetBody {
  name: string
  /** In order; without an id it is new. */
  states: {
    id?: number
    name: string
    kind: State
    colour: string | null
    only: StateRow['only']
  }[]
  /** Where tasks of a removed state go: the removed state's id and the name of one that stays. */
  moveTo?: Record<string, string>
}
export const stateSetBody = shape<StateSetBody>({
  name: line(80).required(),
  states: Joi.array()
    .items(
      Joi.object({
        id,
        name: line(40).required(),
        kind: Joi.valid(...STATES).required(),
        colour: colour.allow(null).required(),
        only: Joi.valid('anyone', 'lead', 'manager').required(),
      }),
    )
    .min(2)
    .max(30)
    .required(),
  moveTo: Joi.object().pattern(/^\d{1,15}$/, line(40)),
})
export const templateSetBody = shape<{ setId: number }>({ setId: id.required() })
export const chooseSetBody = shape<{ setId: number; copy: boolean }>({
  setId: id.required(),
  copy: Joi.boolean().required(),
})

export interface FieldBody {
  /** What it is on: tasks where it is not said. It stays. */
  of?: FieldOwner
  name: string
  kind: CustomKind
  options: FieldOptions
  projectId: number | null
  templateId: number | null
  hidden: boolean
  /** Who reads its values: everyone where it is not said. */
  readers?: Readers
}
export const fieldBody = shape<FieldBody>({
  of: Joi.valid(...FIELD_OWNERS),
  name: line(60).required(),
  kind: Joi.valid(...CUSTOM_KINDS).required(),
  options: Joi.object({
    choices: Joi.array()
      .items(
        Joi.object({
          key: line(40).required(),
          name: line(60).required(),
          colour: colour.required(),
        }),
      )
      .max(60)
      .unique('key'),
    currency: Joi.string().pattern(/^[A-Z]{3}$/),
  }).required(),
  projectId: id.allow(null).required(),
  templateId: id.allow(null).required(),
  hidden: Joi.boolean().required(),
  readers: Joi.valid(...READERS),
})
export const hideBody = shape<{ projectId: number; hidden: boolean }>({
  projectId: id.required(),
  hidden: Joi.boolean().required(),
})

export interface TagBody {
  name: string
  colour: string
}
export const tagBody = shape<TagBody>({ name: line(40).required(), colour: colour.required() })

/** For how many days each is kept; null for good. */
export type Retention = Readonly<Record<(typeof RECORDS)[number], number | null>>
/** The shortest and the longest that records are kept for, where not for good, in days. */
export const KEPT_DAYS = { least: 30, most: 3650 } as const
const days = Joi.number().integer().min(KEPT_DAYS.least).max(KEPT_DAYS.most).allow(null).required()
export const retentionBody = shape<Retention>({
  journal: days,
  runs: days,
  notices: days,
  mail: days,
})

/** How the firm writes dates and times. */
export const datesBody = shape<DateWays>({
  first: Joi.valid(...WEEKDAYS).required(),
  clock: Joi.valid(12, 24).required(),
})
