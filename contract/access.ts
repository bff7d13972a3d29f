import Joi from 'joi'
import type { Reason } from '#core/access/reach.ts'
import { id, line, shape, type PersonRef } from './common.ts'
import {
  AUDIENCES,
  SHARED,
  TEAM_KINDS,
  type Access,
  type Audience,
  type Level,
  type SharedLevel,
  type TeamKind,
} from './words.ts'

/** Who sees a project besides managers, its lead and those it is shared with. */
export const audienceBody = shape<AudienceBody>({
  audience: Joi.valid(...AUDIENCES).required(),
  teamId: id.allow(null),
})
export interface AudienceBody {
  audience: Audience
  /** The team it is for, where it is for one. */
  teamId?: number | null
}

/** Something shared with people by name; a phase is a part of a project. */
export const shareBody = shape<ShareBody>({
  people: Joi.array().items(id).min(1).max(100).unique().required(),
  may: Joi.valid(...SHARED).required(),
  phaseId: id.allow(null),
})
export interface ShareBody {
  people: number[]
  may: SharedLevel
  phaseId?: number | null
}
export interface ShareRow {
  readonly id: number
  readonly person: PersonRef
  readonly access: Access
  readonly may: SharedLevel
  readonly phase: { readonly id: number; readonly name: string } | null
}

/** How a project, or a client, is shared. */
export interface SharedSheet {
  readonly audience: Audience
  readonly team: { readonly id: number; readonly name: string } | null
  readonly shares: readonly ShareRow[]
}

/** One reason why somebody sees something, and the most it lets them do. */
export interface SeenWhy {
  readonly why: Reason
  readonly may: Level
}
/** Somebody who sees something. */
export interface SeenBy extends PersonRef {
  readonly access: Access
  readonly title: string
  readonly may: Level
  /** The strongest first. */
  readonly why: readonly SeenWhy[]
}
/** Who sees a project or a task, and why. */
export interface WhoSees {
  readonly name: string
  readonly project: { readonly id: number; readonly name: string } | null
  readonly client: { readonly id: number; readonly name: string } | null
  readonly audience: Audience
  readonly team: { readonly id: number; readonly name: string } | null
  readonly people: readonly SeenBy[]
  /** How many people of the firm and guests of it do not see it. */
  readonly others: number
}
/** What somebody sees of the projects that run. */
export interface SeenProjects {
  readonly person: PersonRef & { readonly access: Access }
  readonly projects: readonly {
    readonly id: number
    readonly name: string
    readonly audience: Audience
    /** Null where they see only tasks or phases of it. */
    readonly may: Level | null
    readonly why: readonly SeenWhy[]
  }[]
  /** How many running projects they do not see. */
  readonly unseen: number
  /** Whether they see what stands in no project. */
  readonly loose: boolean
}

/** A team as whoever may know of it sees it. */
export interface TeamSheet {
  readonly id: number
  readonly name: string
  readonly kind: TeamKind
  readonly members: readonly number[]
  /** Who asks to be let in: shown to who may do so. */
  readonly asks: readonly PersonRef[]
  /** Running projects that are for it alone. */
  readonly projects: number
  readonly mine: boolean
  readonly asked: boolean
}
export const newTeam = shape<NewTeam>({
  name: line(80).required(),
  kind: Joi.valid(...TEAM_KINDS).required(),
  members: Joi.array().items(id).max(500).unique(),
})
export interface NewTeam {
  name: string
  kind: TeamKind
  members?: number[]
}
export const teamPatch = shape<Partial<NewTeam>>({
  name: line(80),
  kind: Joi.valid(...TEAM_KINDS),
  members: Joi.array().items(id).max(500).unique(),
}).min(1)
/** Whoever asked is let in, or told no. */
export const answerBody = shape<{ personId: number; let: boolean }>({
  personId: id.required(),
  let: Joi.boolean().required(),
})
