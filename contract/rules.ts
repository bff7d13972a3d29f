import Joi from 'joi'
import type { Group } from '#core/rules/conditions.ts'
import { id, isoTime, line, shape } from './common.ts'
import { FACTS, PRIORITIES, type Priority } from './words.ts'

/**
 * Whom an action is about: those on the task, the project's lead, the rule's owner, a person, or a
 * team's least loaded.
 */
export type Who =
  | { readonly is: 'assignees' | 'lead' | 'owner' }
  | { readonly is: 'person'; readonly id: number }
  | { readonly is: 'team'; readonly id: number }

export type Action =
  | { readonly kind: 'remind'; readonly who: Who; readonly daily: boolean; readonly text: string }
  | { readonly kind: 'tell'; readonly who: Who; readonly mail: boolean; readonly text: string }
  | { readonly kind: 'assign'; readonly who: Who }
  | { readonly kind: 'set-priority'; readonly to: Priority }
  | { readonly kind: 'make-task'; readonly title: string; readonly who: Who }

export interface Rung {
  /** Stays the same when the rung is edited or moved: a rung fires once per due date by it. */
  readonly key: string
  readonly delay:
    | { readonly days: number; readonly unit: 'working' | 'calendar'; readonly time: string }
    | { readonly hours: number }
  readonly actions: readonly Action[]
}

/** A rule on late work: conditions that must hold, and the ladder it climbs. */
export interface RuleDefinition {
  readonly trigger: 'late'
  readonly conditions: Group
  readonly rungs: readonly Rung[]
}

export interface RuleSheet {
  readonly id: number
  readonly name: string
  readonly on: boolean
  readonly owner: { id: number; name: string } | null
  readonly version: number
  readonly pausedBecause: string | null
  readonly definition: RuleDefinition
  /** What stands in the way of its working, such as a person who left. */
  readonly warnings: readonly string[]
  readonly runs30: number
  readonly lastRunAt: number | null
}

export interface RunEntry {
  readonly id: number
  readonly at: number
  readonly outcome: 'done' | 'skipped' | 'failed'
  readonly summary: string
  readonly reasons: readonly string[]
  readonly rule: { id: number; name: string } | null
  readonly series: { id: number; name: string } | null
  readonly task: { id: number; title: string } | null
  readonly project: { id: number; name: string } | null
}

const who = Joi.alternatives(
  Joi.object({ is: Joi.valid('assignees', 'lead', 'owner').required() }),
  Joi.object({ is: Joi.valid('person', 'team').required(), id: id.required() }),
)

const action = Joi.alternatives().conditional('.kind', {
  switch: [
    {
      is: 'remind',
      then: Joi.object({
        kind: Joi.string(),
        who: who.required(),
        daily: Joi.boolean().required(),
        text: line(500).required(),
      }),
    },
    {
      is: 'tell',
      then: Joi.object({
        kind: Joi.string(),
        who: who.required(),
        mail: Joi.boolean().required(),
        text: line(500).required(),
      }),
    },
    { is: 'assign', then: Joi.object({ kind: Joi.string(), who: who.required() }) },
    {
      is: 'set-priority',
      then: Joi.object({ kind: Joi.string(), to: Joi.valid(...PRIORITIES).required() }),
    },
    {
      is: 'make-task',
      then: Joi.object({ kind: Joi.string(), title: line(200).required(), who: who.required() }),
    },
  ],
  otherwise: Joi.forbidden().messages({
    'any.unknown': '{{#label}} must be remind, tell, assign, set-priority or make-task',
  }),
})

const test = Joi.object({
  field: Joi.valid(...FACTS).required(),
  op: Joi.valid('is', 'is-not', 'in', 'not-in', 'at-least', 'at-most').required(),
  value: Joi.alternatives(
    Joi.string().allow('').max(200),
    Joi.number(),
    Joi.boolean(),
    Joi.valid(null),
    Joi.array().items(Joi.string().max(200), Joi.number()).max(50),
  ).required(),
})
const group = Joi.object({
  match: Joi.valid('all', 'any', 'none').required(),
  of: Joi.array().items(test, Joi.link('#group')).max(30).required(),
}).id('group')

export const ruleBody = shape<RuleBody>({
  name: line(120).required(),
  ownerId: id.allow(null),
  definition: Joi.object({
    trigger: Joi.valid('late').required(),
    conditions: group.required(),
    rungs: Joi.array()
      .items(
        Joi.object({
          key: Joi.string().max(40).required(),
          delay: Joi.alternatives(
            Joi.object({
              days: Joi.number().integer().min(1).max(365).required(),
              unit: Joi.valid('working', 'calendar').required(),
              time: isoTime.required(),
            }),
            Joi.object({ hours: Joi.number().min(0).max(8760).required() }),
          ).required(),
          actions: Joi.array().items(action).min(1).max(10).required(),
        }),
      )
      .min(1)
      .max(12)
      .unique('key')
      .required(),
  }).required(),
})
export interface RuleBody {
  name: string
  ownerId: number | null
  definition: RuleDefinition
}
