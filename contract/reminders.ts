import Joi from 'joi'
import type { PlannedReminder } from '#core/templates/template.ts'
import { id, isoDay, isoTime, shape } from './common.ts'

/** When a reminder comes first: so long before or after a date of its task, or on a day. */
export type ReminderWhen =
  | {
      readonly kind: 'dated'
      readonly days: number
      readonly unit: 'working' | 'calendar'
      readonly side: 'before' | 'after'
      readonly field: 'due' | 'start'
      readonly time: string
    }
  | { readonly kind: 'at'; readonly date: string; readonly time: string }

/** A reminder of a task: to whoever is on it, and to people by name; once, or daily until it is done. */
export interface ReminderBody {
  when: ReminderWhen
  assignees: boolean
  people: number[]
  daily: boolean
  /** What is said; nothing for the task's title and when it is due. */
  text: string
}
const days = Joi.number().integer().min(0).max(365).required()
const dated = {
  ...{ days, time: isoTime.required() },
  unit: Joi.valid('working', 'calendar').required(),
  side: Joi.valid('before', 'after').required(),
  field: Joi.valid('due', 'start').required(),
}
/** Reminders that tasks of a template, or of a series, come with. */
export const plannedReminders = Joi.array()
  .items(Joi.object<PlannedReminder>({ ...dated, daily: Joi.boolean().required() }))
  .max(20)
export const reminderBody = shape<ReminderBody>({
  when: Joi.alternatives(
    Joi.object({ kind: Joi.valid('dated').required(), ...dated }),
    Joi.object({
      ...{ kind: Joi.valid('at').required(), date: isoDay.required(), time: isoTime.required() },
    }),
  ).required(),
  assignees: Joi.boolean().required(),
  people: Joi.array().items(id).max(20).unique().required(),
  daily: Joi.boolean().required(),
  text: Joi.string().trim().allow('').max(300).required(),
})
  .custom((body: ReminderBody, helpers) =>
    body.assignees || body.people.length > 0 ? body : helpers.error('any.nobody'),
  )
  .messages({
    'any.nobody': '{{#label}} must be for somebody: whoever is on it, or people by name',
  })

/** A reminder as its task's sheet shows it. */
export interface ReminderRow extends Omit<ReminderBody, 'people'> {
  readonly id: number
  readonly people: readonly { readonly id: number; readonly name: string }[]
  /** When it comes next, to the first of those it is for; null where it does not come any more. */
  readonly next: number | null
  /** To whom it went, and when, newest first. */
  readonly sent: readonly { readonly name: string; readonly at: number }[]
  readonly mayChange: boolean
}
