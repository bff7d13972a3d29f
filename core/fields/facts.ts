import type { Access, Health, Priority, ProjectState, State, Tier } from '../words.ts'
import type { Ref, Value } from './types.ts'

/**
 * What fields read. Lists carry less of an item than rules ask of it: what they leave out is
 * optional, and only fields that are no columns read it.
 */

export interface PersonFacts extends Ref {
  readonly access?: Access
}
/** Values of the firm's own fields, by the field's number. */
type OwnFields = Readonly<Record<string, string | number>>
export interface ClientFacts extends Ref {
  readonly short: string
  readonly tier?: Tier | null
  readonly state?: Ref | null
  readonly lead?: PersonFacts | null
  readonly tags?: readonly Ref[]
  readonly fields?: OwnFields
}
export interface PhaseFacts extends Ref {
  readonly projectId?: number
}
export interface ProjectFacts extends Ref {
  readonly state?: ProjectState
  readonly category?: string
  readonly fields?: OwnFields
  readonly client?: ClientFacts | null
  readonly lead?: PersonFacts | null
  readonly template?: Ref | null
  readonly anchor?: string | null
  readonly health?: Health | null
  readonly createdAt?: number
  readonly closedAt?: number | null
}
export interface TaskFacts {
  readonly id: number
  readonly title: string
  readonly description?: string
  readonly state: State
  readonly stateId: number | null
  readonly stateName: string
  readonly stateColour: string | null
  readonly entered: number | null
  /** When it last entered each state it ever stood in, by the state's id. */
  readonly stateDates: Readonly<Record<number, number>>
  readonly priority: Priority
  readonly parentId: number | null
  readonly subtasks: { readonly done: number; readonly of: number }
  readonly checklist: readonly { readonly done: boolean }[]
  readonly files: number
  readonly comments: number
  readonly assignees: readonly PersonFacts[]
  readonly followers?: readonly PersonFacts[]
  readonly creator?: PersonFacts | null
  readonly client: ClientFacts | null
  readonly project: ProjectFacts | null
  readonly phaseId: number | null
  readonly phaseName: string | null
  readonly series: Ref | null
  readonly tags: readonly Ref[]
  readonly start: string | null
  readonly due: string | null
  readonly dueTime: string | null
  /** The first date ever promised, how often it was put off since, and when it was last reviewed. */
  readonly firstDue: string | null
  readonly postponed: number
  readonly reviewedAt: number | null
  /** Its due was missed, and how many working days ago; 0 where it was not. */
  readonly late: boolean
  readonly daysLate: number
  readonly estimate: number | null
  readonly rung: { readonly at: number; readonly ruleId: number } | null
  readonly createdAt: number
  readonly closedAt: number | null
  readonly archivedAt: number | null
  readonly fields: OwnFields
  /** What fields were before the change that a rule reacts to, by the field's name. */
  readonly was?: Readonly<Record<string, Value>>
  /** Values of fields that are columns and nothing more, by the field's name. */
  readonly values: Readonly<Record<string, string | number | null>>
}

/** Kinds of item whose fields can be asked, and what of them is read. */
export interface Items {
  readonly task: TaskFacts
  readonly project: ProjectFacts
  readonly client: ClientFacts
  readonly phase: PhaseFacts
  readonly person: PersonFacts
}
export type Kind = keyof Items
