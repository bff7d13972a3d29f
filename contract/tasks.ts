import Joi from 'joi'
import type { ReminderRow } from './reminders.ts'
import type { TaskFacts } from '#core/fields/facts.ts'
import {
  fieldValue,
  fieldValues,
  id,
  isoDay,
  isoTime,
  line,
  type PersonRef,
  shape,
} from './common.ts'
import type { CustomField, FieldValue, StateRow } from './fields.ts'
import { COPIES, PRIORITIES, STATES, type Copies, type Priority, type State } from './words.ts'

/** Somebody on a task; `estimate` is their part in minutes, `doneAt` when they finished it. */
export interface Assignee extends PersonRef {
  readonly estimate: number | null
  readonly doneAt: number | null
}

/**
 * A task as lists show it: what its fields read, and what belongs to the row alone. Dates are local
 * to the firm; `estimate` is minutes.
 */
export interface TaskRow extends TaskFacts {
  readonly doneBy: 'any' | 'all'
  readonly tags: readonly { id: number; name: string; colour: string }[]
  readonly role: string | null
  readonly assignees: readonly Assignee[]
  readonly checklist: readonly { id: number; title: string; done: boolean }[]
  /** The file or link that its slip on a board shows. */
  readonly cover: Cover | null
  /** Whether who asks may say how far it is: tick it, and set its state. */
  readonly mayWork: boolean
  /** Standing on a ladder, counted from 1. */
  readonly rung: { at: number; of: number; ruleId: number; rule: string } | null
  readonly version: number
}

export interface TaskSheet extends TaskRow {
  /** Sanitised HTML, as are the bodies of comments. */
  readonly description: string
  readonly discussion: readonly {
    id: number
    author: PersonRef | null
    body: string
    at: number
    mine: boolean
  }[]
  readonly followers: readonly PersonRef[]
  readonly attachments: readonly Attachment[]
  readonly parent: { id: number; title: string } | null
  readonly children: readonly TaskRow[]
  readonly datesFollow: boolean
  readonly stateFollows: boolean
  readonly mergedInto: number | null
  /** The states this task can take, and the custom fields it shows. */
  readonly states: readonly StateRow[]
  readonly customFields: readonly CustomField[]
  readonly creator: PersonRef | null
  /** Those that one may change. */
  readonly reminders: readonly ReminderRow[]
  /** What this viewer may do. `give`: who is on it, its tags and fields, where it is; no guest. */
  readonly may: { edit: boolean; give: boolean; progress: boolean; comment: boolean }
}

/** A file or a link as the slip of its task shows it. */
export type Cover = Pick<Attachment, 'id' | 'name' | 'url' | 'type'>
/** A file or a link on a task or a project; `size` in bytes; `onBoard`: its task’s slip shows it. */
export interface Attachment {
  readonly id: number
  readonly name: string
  readonly url: string | null
  readonly type: string | null
  readonly size: number | null
  readonly onBoard: boolean
  readonly by: PersonRef | null
  readonly at: number
  readonly task: { id: number; title: string } | null
}

/** One line of a task's activity. */
export interface ActivityRow {
  readonly id: number
  readonly at: number
  readonly who: string
  readonly automatic: boolean
  readonly text: string
}

const minutes = Joi.number().integer().min(0).max(60_000).allow(null)
const fields = {
  title: line(200),
  description: Joi.string().allow('').max(100_000),
  state: Joi.valid(...STATES),
  stateId: id,
  priority: Joi.valid(...PRIORITIES),
  start: isoDay.allow(null),
  due: isoDay.allow(null),
  dueTime: isoTime.allow(null),
  estimate: minutes,
  assignees: Joi.array().items(id).max(30).unique(),
  /** Each one's part, by person. */
  estimates: Joi.object().pattern(/^\d{1,15}$/, minutes),
  followers: Joi.array().items(id).max(100).unique(),
  tags: Joi.array().items(id).max(30).unique(),
  fields: fieldValues,
  values: Joi.object().pattern(Joi.string().max(60), fieldValue),
  reviewed: Joi.valid(true),
  projectId: id.allow(null),
  phaseId: id.allow(null),
  clientId: id.allow(null),
  parentId: id.allow(null),
  doneBy: Joi.valid('any', 'all'),
  datesFollow: Joi.boolean(),
  stateFollows: Joi.boolean(),
  archived: Joi.boolean(),
}
export const taskPatch = shape<TaskPatch>(fields).min(1)
/**
 * What an edit of a task may say. `state` names a kind, `stateId` a state; `fields` holds values by
 * field id, `values` those of plain fields by name, null empties one; `reviewed` says that somebody
 * has just looked at it.
 */
export interface TaskPatch {
  title?: string
  description?: string
  state?: State
  stateId?: number
  priority?: Priority
  start?: string | null
  due?: string | null
  dueTime?: string | null
  estimate?: number | null
  assignees?: number[]
  estimates?: Record<string, number | null>
  followers?: number[]
  tags?: number[]
  fields?: Record<string, FieldValue>
  values?: Record<string, FieldValue>
  reviewed?: true
  projectId?: number | null
  phaseId?: number | null
  clientId?: number | null
  parentId?: number | null
  doneBy?: 'any' | 'all'
  datesFollow?: boolean
  stateFollows?: boolean
  archived?: boolean
}

const newTaskFields = {
  ...fields,
  title: fields.title.required(),
  checklist: Joi.array().items(line(200)).max(100),
}
export const newTask = shape<NewTask>(newTaskFields)
export interface NewTask extends TaskPatch {
  title: string
  checklist?: string[]
}

/**
 * Many tasks at once. Dates move by working or calendar days; `slipped` brings what is overdue to
 * today.
 */
export const bulkBody = shape<BulkBody>({
  ids: Joi.array().items(id).min(1).max(20_000).unique().required(),
  set: Joi.object(fields).min(1),
  addAssignees: fields.assignees,
  removeAssignees: fields.assignees,
  addTags: fields.tags,
  removeTags: fields.tags,
  addFollowers: fields.followers,
  shift: Joi.object({
    days: Joi.number().integer().min(-1000).max(1000).invalid(0).required(),
    working: Joi.boolean().required(),
  }),
  slipped: Joi.valid(true),
})
  .or(
    'set',
    'addAssignees',
    'removeAssignees',
    'addTags',
    'removeTags',
    'addFollowers',
    'shift',
    'slipped',
  )
  .messages({
    'object.missing':
      'say what to change: set, shift, slipped, or people and tags to add or remove',
  })
export interface BulkBody {
  ids: number[]
  set?: TaskPatch
  addAssignees?: number[]
  removeAssignees?: number[]
  addTags?: number[]
  removeTags?: number[]
  addFollowers?: number[]
  shift?: { days: number; working: boolean }
  slipped?: true
}
/**
 * An edit for each of some tasks, and new tasks: what is pasted over a table, or brought in from a
 * file. All of it is one change.
 */
export const editsBody = shape<EditsBody>({
  edits: Joi.array()
    .items(Joi.object({ id: id.required(), patch: taskPatch.required() }))
    .max(2_000)
    .required(),
  make: Joi.array()
    .items(shape<NewTask & { phaseName?: string }>({ ...newTaskFields, phaseName: line(80) }))
    .max(5_000)
    .required(),
  project: Joi.object({ name: line(120).required(), clientId: id.allow(null).required() }),
})
export interface EditsBody {
  edits: { id: number; patch: TaskPatch }[]
  /** `phaseName` is found in the project, or made there. */
  make: (NewTask & { phaseName?: string })[]
  /** A new project that what is made goes into. */
  project?: { name: string; clientId: number | null }
}
/** What a bulk change did; `change` is what undoes it whole. */
export interface BulkDone {
  readonly count: number
  readonly change: number | null
}

/** A task's place in the order by hand: after another of the same project, or first. */
export const orderBody = shape<{ after: number | null }>({ after: id.allow(null).required() })

export const duplicateBody = shape<{ title: string; take: Copies[] }>({
  title: line(200).required(),
  take: Joi.array()
    .items(Joi.valid(...COPIES))
    .unique()
    .required(),
})
export const mergeBody = shape<{ into: number }>({ into: id.required() })

export const newComment = shape<{ body: string }>({
  body: Joi.string().trim().min(1).max(100_000).required(),
})
export const commentEdit = shape<{ body: string }>({
  body: Joi.string().allow('').max(100_000).required(),
})
export const filePatch = shape<{ onBoard: boolean }>({ onBoard: Joi.boolean().required() })
/** A step of a checklist, or several at once as they were pasted. */
export interface NewItems {
  readonly title?: string
  readonly titles?: readonly string[]
}
export const newItem = shape<NewItems>({
  title: line(200),
  titles: Joi.array().items(line(200)).min(1).max(100),
}).xor('title', 'titles')
export const itemPatch = shape<{ title?: string; done?: boolean }>({
  title: line(200),
  done: Joi.boolean(),
}).min(1)
export const newLink = shape<{ name: string; url: string }>({
  name: Joi.string().trim().allow('').max(200).required(),
  url: Joi.string().trim().max(2_000).required(),
})
