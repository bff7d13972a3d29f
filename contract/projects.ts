import Joi from 'joi'
import { fieldValues, id, isoDay, line, type PersonRef, shape } from './common.ts'
import type { CustomField, FieldValue } from './fields.ts'
import type { Attachment } from './tasks.ts'
import type { ProjectRow } from './desks.ts'
import { viewDefinition, type ViewDefinition } from './query.ts'
import {
  AUDIENCES,
  COPIES,
  HEALTHS,
  PROJECT_STATES,
  type Audience,
  type Copies,
  type Health,
  type ProjectState,
} from './words.ts'

/**
 * A phase with what is in it; `effort` in minutes, tasks without an estimate counted as half an
 * hour.
 */
export interface PhaseRow {
  readonly id: number
  readonly name: string
  readonly open: number
  readonly done: number
  readonly late: number
  readonly effort: number
  readonly effortDone: number
}
/** A phase as it is chosen. */
export interface PhaseChoice {
  readonly id: number
  readonly projectId: number
  readonly name: string
}
export interface Milestone {
  readonly id: number
  readonly name: string
  readonly owner: PersonRef | null
  readonly date: string | null
  readonly doneAt: number | null
  readonly late: boolean
}
/** What was said about a project; one with a `health` is a status update. */
export interface Post {
  readonly id: number
  readonly author: PersonRef | null
  readonly health: Health | null
  readonly body: string
  readonly at: number
  /** Written by who asks, who may reword it. */
  readonly mine: boolean
}
export interface ProjectSheet extends ProjectRow {
  readonly description: string
  readonly phases: readonly PhaseRow[]
  readonly milestones: readonly Milestone[]
  readonly posts: readonly Post[]
  /** Files and links of the project and of all its tasks. */
  readonly files: readonly Attachment[]
  readonly stateSetId: number
  readonly hiddenFields: readonly number[]
  /** The firm's own fields of projects, and the values of them, by field. */
  readonly customFields: readonly CustomField[]
  readonly fields: Readonly<Record<number, string | number>>
  /** How its work is shown to who has not chosen otherwise; null as any project’s. */
  readonly view: ViewDefinition | null
  readonly version: number
  /** The team it is for, where it is for one that the viewer knows of. */
  readonly team: { readonly id: number; readonly name: string } | null
  readonly may: { structure: boolean; edit: boolean; comment: boolean }
}

/** A page of projects that are finished or archived; `next` is where the following one begins. */
export interface ClosedProjects {
  readonly projects: readonly ProjectRow[]
  readonly next: string | null
}

export interface ProjectPatch {
  name?: string
  description?: string
  clientId?: number | null
  leadId?: number | null
  anchor?: string | null
  health?: Health | null
  healthReason?: string
  view?: ViewDefinition | null
  archived?: boolean
  closed?: boolean
  state?: ProjectState
  category?: string
  /** Values by field id; null empties one. */
  fields?: Record<string, FieldValue>
}
export const projectPatch = shape<ProjectPatch>({
  name: line(120),
  description: Joi.string().allow('').max(100_000),
  clientId: id.allow(null),
  leadId: id.allow(null),
  anchor: isoDay.allow(null),
  health: Joi.valid(...HEALTHS).allow(null),
  healthReason: Joi.string().trim().allow('').max(500),
  view: viewDefinition.allow(null),
  archived: Joi.boolean(),
  closed: Joi.boolean(),
  state: Joi.valid(...PROJECT_STATES),
  category: Joi.string().trim().allow('').max(60),
  fields: fieldValues,
}).min(1)

/** Resumes a project that is on hold; its dates shift by the working days lost, or stay. */
export const resumeBody = shape<{ shift: boolean }>({ shift: Joi.boolean().required() })
/** What resuming a project with its dates shifted would move. */
export interface Resuming {
  readonly heldOn: string
  /** Working days lost since then. */
  readonly days: number
  /** Open tasks that move, and the first few of them. */
  readonly count: number
  readonly tasks: readonly { id: number; title: string; from: string; to: string }[]
  readonly milestones: readonly { name: string; from: string; to: string }[]
  /** The date that the project counts from or to. */
  readonly anchor: { readonly from: string; readonly to: string } | null
}

export const newProject = shape<NewProject>({
  name: line(120).required(),
  clientId: id.allow(null).required(),
  leadId: id.allow(null),
  anchor: isoDay.allow(null),
  phases: Joi.array().items(line(80)).max(50),
  audience: Joi.valid(...AUDIENCES),
  teamId: id.allow(null),
  state: Joi.valid('proposed', 'running'),
  category: Joi.string().trim().allow('').max(60),
})
export interface NewProject {
  name: string
  clientId: number | null
  leadId?: number | null
  anchor?: string | null
  phases?: string[]
  /** Everybody inside where it is not said. */
  audience?: Audience
  teamId?: number | null
  /** Running where it is not said. */
  state?: ProjectState
  category?: string
}

/**
 * Phases whole: in order, new ones without an id; tasks of a phase that is left out stay in the
 * project, in no phase.
 */
export const phasesBody = shape<PhasesBody>({
  phases: Joi.array()
    .items(Joi.object({ id, name: line(80).required() }))
    .max(50)
    .required(),
})
export interface PhasesBody {
  phases: { id?: number; name: string }[]
}
export const milestoneBody = shape<MilestoneBody>({
  name: line(120).required(),
  ownerId: id.allow(null).required(),
  date: isoDay.allow(null).required(),
  done: Joi.boolean().required(),
})
export const milestonePatch: Joi.ObjectSchema<Partial<MilestoneBody>> = milestoneBody
  .fork(['name', 'ownerId', 'date', 'done'], (each) => each.optional())
  .min(1)
export interface MilestoneBody {
  name: string
  ownerId: number | null
  date: string | null
  done: boolean
}
export const postBody = shape<PostBody>({
  body: Joi.string().trim().min(1).max(100_000).required(),
  health: Joi.valid(...HEALTHS)
    .allow(null)
    .required(),
})
export const postEdit = shape<{ body: string }>({
  body: Joi.string().trim().allow('').max(100_000).required(),
})
export interface PostBody {
  body: string
  health: Health | null
}

/** A copy of a project; its dates move so that what was on the old anchor falls on the new one. */
export const cloneBody = shape<CloneBody>({
  name: line(120).required(),
  take: Joi.array()
    .items(Joi.valid(...COPIES, 'milestones'))
    .unique()
    .required(),
  anchor: isoDay.allow(null).required(),
})
export interface CloneBody {
  name: string
  take: (Copies | 'milestones')[]
  anchor: string | null
}
export const splitBody = shape<{ name: string; ids: number[] }>({
  name: line(120).required(),
  ids: Joi.array().items(id).min(1).max(20_000).unique().required(),
})
export const joinBody = shape<{ into: number }>({ into: id.required() })
