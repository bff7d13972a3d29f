import Joi from 'joi'
import { id, isoDay, isoTime, line, type PersonRef } from './common.ts'
import { PRIORITIES, STATES, type Priority, type State } from './words.ts'

/** A task as lists show it. Dates are local to the firm; `estimate` is minutes. */
export interface TaskRow {
  readonly id: number
  readonly title: string
  readonly state: State
  readonly priority: Priority
  readonly start: string | null
  readonly due: string | null
  readonly dueTime: string | null
  readonly estimate: number | null
  readonly role: string | null
  readonly project: { id: number; name: string } | null
  readonly phaseId: number | null
  readonly client: { id: number; name: string; short: string } | null
  readonly assignees: readonly PersonRef[]
  readonly checklist: { done: number; of: number }
  readonly series: { id: number; name: string } | null
  /** Standing on a ladder, counted from 1. */
  readonly rung: { at: number; of: number; ruleId: number; rule: string } | null
  /** Working days late now; 0 when not late. `late` is true from the moment the due was missed. */
  readonly daysLate: number
  readonly late: boolean
  readonly closedAt: number | null
  readonly version: number
}

export interface TaskSheet extends TaskRow {
  readonly description: string
  readonly items: readonly { id: number; title: string; done: boolean }[]
  readonly comments: readonly { id: number; author: PersonRef | null; body: string; at: number }[]
  readonly createdAt: number
  readonly creator: PersonRef | null
  /** What this viewer may do. */
  readonly may: { edit: boolean; progress: boolean }
}

/** One line of a task's activity. */
export interface ActivityRow {
  readonly id: number
  readonly at: number
  readonly who: string
  readonly automatic: boolean
  readonly text: string
}

const fields = {
  title: line(200),
  description: Joi.string().allow('').max(20_000),
  state: Joi.valid(...STATES),
  priority: Joi.valid(...PRIORITIES),
  start: isoDay.allow(null),
  due: isoDay.allow(null),
  dueTime: isoTime.allow(null),
  estimate: Joi.number().integer().min(0).max(60_000).allow(null),
  assignees: Joi.array().items(id).max(30).unique(),
}
export const taskPatch = Joi.object(fields).min(1)
export interface TaskPatch {
  title?: string
  description?: string
  state?: State
  priority?: Priority
  start?: string | null
  due?: string | null
  dueTime?: string | null
  estimate?: number | null
  assignees?: number[]
}

export const newTask = Joi.object({
  ...fields,
  title: fields.title.required(),
  projectId: id.allow(null),
  phaseId: id.allow(null),
  clientId: id.allow(null),
  checklist: Joi.array().items(line(200)).max(100),
})
export interface NewTask extends TaskPatch {
  title: string
  projectId?: number | null
  phaseId?: number | null
  clientId?: number | null
  checklist?: string[]
}

export const newComment = Joi.object({ body: line(10_000).required() })
export const newItem = Joi.object({ title: line(200).required() })
export const itemPatch = Joi.object({ title: line(200), done: Joi.boolean() }).min(1)
