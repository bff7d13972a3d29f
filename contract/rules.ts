import Joi from 'joi'
import type { Fault, Group } from '#core/conditions/condition.ts'
import { actionsIn, isBranch, type Deed as DeedOf } from '#core/rules/program.ts'
import type { About } from './actions/action.ts'
import { actionKind, actionKinds, type Action } from './actions/index.ts'
import { id, isoTime, line, shape } from './common.ts'
import { group } from './conditions.ts'
import { stepOf } from './steps.ts'
import { FIELD_OWNERS, type AlarmKind } from './words.ts'
import { triggerKind, triggerKinds, type Trigger } from './triggers/index.ts'

export type { Who } from './actions/action.ts'
export type { Action, Trigger }
/** An action, or a branch of them under conditions of their own. */
export type Deed = DeedOf<Action>

/** Where a rule acts: in the whole firm, or for one client, from one template, in one project. */
export type RuleScope =
  { readonly of: 'firm' } | { readonly of: 'client' | 'template' | 'project'; readonly id: number }

export interface Rung {
  /** Stays the same when the rung is edited or moved: a rung fires once per due date by it. */
  readonly key: string
  readonly delay:
    | { readonly days: number; readonly unit: 'working' | 'calendar'; readonly time: string }
    | { readonly hours: number }
  readonly actions: readonly Deed[]
}

/**
 * A rule: what it acts on, what must hold, and what it does. One whose trigger climbs has rungs; all
 * others have actions.
 */
export interface RuleDefinition {
  readonly trigger: Trigger
  /** Left out, it acts in the whole firm. */
  readonly scope?: RuleScope
  readonly conditions: Group
  readonly rungs?: readonly Rung[]
  readonly actions?: readonly Deed[]
}
/** The rungs of a rule that climbs. */
export const rungsOf = ({ rungs }: RuleDefinition): readonly Rung[] => rungs ?? []
/** All actions of a rule, whichever rung they stand on. */
export const actionsOf = ({ rungs, actions }: RuleDefinition): readonly Action[] => [
  ...actionsIn(actions ?? []),
  ...(rungs ?? []).flatMap((rung) => actionsIn(rung.actions)),
]
/** The conditions of a rule, its own and those of its branches, each with its place. */
export function conditionsOf({ conditions, rungs, actions }: RuleDefinition) {
  const own = (action: Action, place: string) =>
    'until' in action ? [{ place: `${place}.until`, conditions: action.until }] : []
  const inside = (deeds: readonly Deed[], at: string) =>
    deeds.flatMap((deed, i) => {
      const place = `${at}.${i}`
      if (!isBranch<Action>(deed)) return own(deed, place)
      return [
        { place: `${place}.conditions`, conditions: deed.conditions },
        ...deed.actions.flatMap((action, n) => own(action, `${place}.actions.${n}`)),
        ...deed.otherwise.flatMap((action, n) => own(action, `${place}.otherwise.${n}`)),
      ]
    })
  return [
    { place: 'conditions', conditions },
    ...inside(actions ?? [], 'actions'),
    ...(rungs ?? []).flatMap((rung, i) => inside(rung.actions, `rungs.${i}.actions`)),
  ]
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
  /** Conditions that cannot be asked any more, and where they stand: the rest holds. */
  readonly faults: readonly Fault[]
  readonly runs30: number
  readonly lastRunAt: number | null
  /** Projects that it is switched off in, as far as one sees them. */
  readonly offIn: readonly { readonly id: number; readonly name: string }[]
}
/** A rule that acts in a project, unless it is off: there, or everywhere. */
export interface ProjectRule {
  readonly id: number
  readonly name: string
  readonly on: boolean
  readonly pausedBecause: string | null
  readonly offHere: boolean
  readonly definition: RuleDefinition
}

export interface RunEntry {
  readonly id: number
  readonly at: number
  readonly outcome: 'done' | 'skipped' | 'failed'
  readonly summary: string
  readonly reasons: readonly string[]
  /** How often the same was said; this is the newest time. */
  readonly times: number
  readonly rule: { id: number; name: string } | null
  readonly series: { id: number; name: string } | null
  readonly task: { id: number; title: string } | null
  readonly project: { id: number; name: string } | null
  /** What it changed, to be taken back as one; null where it only told somebody. */
  readonly change: number | null
  readonly undone: boolean
}

/** Every open late task: its next alarm, or why it has none. */
export interface LateAudit {
  readonly late: number
  /** Those that something comes to. */
  readonly watched: number
  /** Those whose alarm is missing: there must be none. */
  readonly gaps: number
  readonly tasks: readonly {
    readonly id: number
    readonly title: string
    readonly place: string | null
    /** When something comes to it next, and by which rule; a reminder has none. */
    readonly next: { readonly at: number; readonly rule: string | null } | null
    readonly reason: string | null
  }[]
}
/** How often a rule ran on each day that it ran on, since one. */
export interface RunDays {
  readonly from: string
  readonly days: readonly { readonly day: string; readonly runs: number }[]
}
/** One run whole. */
export interface RunDetail {
  readonly id: number
  /** The version of the rule that it was a run of. */
  readonly version: number | null
  /** How long it took, in microseconds. */
  readonly took: number | null
  /** What led to it, where that was a change. */
  readonly cause: readonly string[]
  /** What it changed, from what to what. */
  readonly changes: readonly string[]
  readonly told: readonly { readonly person: string; readonly text: string }[]
  readonly mail: readonly {
    readonly recipient: string
    readonly subject: string
    readonly state: 'waiting' | 'sent' | 'failed'
    readonly at: number | null
  }[]
  /** The same rule can be run on the same thing again. */
  readonly mayAgain: boolean
}

const action = stepOf(actionKind, actionKinds)
const actions = Joi.array().items(action).max(10)
const branch = Joi.object({
  kind: Joi.valid('branch').required(),
  conditions: group.required(),
  actions: actions.min(1).required(),
  otherwise: actions.required(),
})
const deeds = Joi.array()
  .items(
    Joi.alternatives().conditional(Joi.object({ kind: Joi.valid('branch') }).unknown(), {
      ...{ then: branch, otherwise: action },
    }),
  )
  .min(1)
  .max(10)
const scope = Joi.alternatives(
  Joi.object({ of: Joi.valid('firm').required() }),
  Joi.object({ of: Joi.valid('client', 'template', 'project').required(), id: id.required() }),
)

const ruleFields = {
  name: line(120).required(),
  ownerId: id.allow(null),
  definition: Joi.object<RuleDefinition>({
    trigger: stepOf(triggerKind, triggerKinds).required(),
    scope,
    conditions: group.required(),
    actions: deeds,
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
          actions: deeds.required(),
        }),
      )
      .min(1)
      .max(12)
      .unique('key'),
  })
    .custom((definition: RuleDefinition, helpers) =>
      triggerKind(definition.trigger.kind)?.climbs === (definition.rungs !== undefined) &&
      (definition.rungs === undefined) === (definition.actions !== undefined)
        ? definition
        : helpers.error('any.does'),
    )
    .messages({ 'any.does': '{{#label}} needs rungs where it is about late work, else actions' })
    .required(),
}
export const ruleBody = shape<RuleBody>(ruleFields)
export const ruleTry = shape<RuleTry>({ ...ruleFields, item: id.required() })
/** A rule to be tried on one item of the kind it is about. */
export interface RuleTry extends RuleBody {
  item: number
}
/** A text of a rule to be filled in for an item. */
export interface RuleText {
  about: About
  item: number
  text: string
}
export const ruleText = shape<RuleText>({
  about: Joi.valid(...FIELD_OWNERS).required(),
  item: id.required(),
  text: Joi.string().max(10_000).allow('').required(),
})
/** A text as it would be said of an item, and which of its fields are empty there. */
export interface FilledText {
  readonly title: string
  readonly text: string
  readonly empty: readonly string[]
}
/** What a rule would do about an item; of a ladder, each rung by itself. */
export interface RuleTrial {
  /** The item is where the rule acts. */
  readonly reaches: boolean
  /** Time brings nothing to it. */
  readonly rests: boolean
  readonly holds: boolean
  readonly tests: readonly { readonly said: string; readonly held: boolean }[]
  readonly parts: readonly {
    readonly name: string
    readonly did: readonly string[]
    readonly left: readonly string[]
    readonly says: readonly { readonly to: string; readonly text: string; readonly mail: boolean }[]
    /** Why it would fail. */
    readonly failed: string | null
  }[]
}
/** A rule asked of the last 30 days: itself, or as it is being changed. */
export interface RulePastBody extends RuleBody {
  /** Which one it is, where it is kept already. */
  rule?: number
}
export const rulePast = shape<RulePastBody>({ ...ruleFields, rule: id })
/** Something a rule would have done in the past, or would have left. */
export interface PastRun {
  readonly at: number
  readonly outcome: RunEntry['outcome']
  readonly item: {
    readonly kind: 'task' | 'project' | 'client'
    readonly id: number
    readonly title: string
    /** The project, or else the client, that a task is of. */
    readonly place: string | null
  }
  /** What the run log would call it: “Rung 2”; nothing where there is nothing to tell it apart by. */
  readonly name: string
  readonly reasons: readonly string[]
  /** How often the same was so; the moment is the newest. */
  readonly times: number
}
/** What a rule would have done, had it been on: facts as they were at each moment. */
export interface RulePast {
  /** From when on it was asked; later than 30 days ago where the journal does not go back so far. */
  readonly from: number
  readonly cut: boolean
  readonly runs: number
  readonly items: number
  /** How often it would have run on each day that it would have. */
  readonly days: RunDays['days']
  /** The newest of its runs, and of what it would have left; of those, each once. */
  readonly newest: readonly PastRun[]
  readonly left: readonly PastRun[]
}
/** What a rule did, or did not do, to something up to a moment of a day, and why. */
export interface WhyNot {
  /** The moment asked about, and where its day was begun with; later where the journal begins later. */
  readonly at: number
  readonly from: number
  readonly cut: boolean
  /** One sentence: it ran; or the first reason why it did not. */
  readonly answer: string
  readonly ran: boolean
  /** What had to be so for it to act, in the order it is asked, up to the first that was not. */
  readonly checks: readonly { readonly said: string; readonly ok: boolean }[]
  /** What it asks, with the values it had at that moment. */
  readonly tests: readonly { readonly said: string; readonly held: boolean }[]
  /** Its runs on it that day up to then, the newest first. */
  readonly runs: readonly PastRun[]
}
/** Whether what happens by itself does, and what was held back since it was stopped. */
export interface Clockwork {
  readonly stoppedAt: number | null
  /** What came due, by its kind of alarm. */
  readonly due: Readonly<Partial<Record<AlarmKind, number>>>
  /** Rules that something happened to act on. */
  readonly rules: readonly { readonly id: number; readonly name: string; readonly count: number }[]
}
/** Switches a rule on or off; `also`: it acts on what is late already, too. */
export const ruleSwitch = shape<RuleSwitch>({ on: Joi.boolean().required(), also: Joi.boolean() })
export interface RuleSwitch {
  on: boolean
  also?: boolean
}
/** What a rule would act on at once if it were switched on so: how many tasks, and the first few. */
export interface LateAlready {
  readonly count: number
  readonly tasks: readonly { id: number; title: string; project: string | null }[]
}

export interface RuleBody {
  name: string
  ownerId: number | null
  definition: RuleDefinition
}
