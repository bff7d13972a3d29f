import type { ActionKind, StepOf } from './action.ts'
import { addPeople } from './add-people.ts'
import { addStep } from './add-step.ts'
import { assign } from './assign.ts'
import { comment } from './comment.ts'
import { follow } from './follow.ts'
import { makeSubtask } from './make-subtask.ts'
import { makeTask } from './make-task.ts'
import { moveDue } from './move-due.ts'
import { remind } from './remind.ts'
import { setPriority } from './set-priority.ts'
import { setState } from './set-state.ts'
import { tag } from './tag.ts'
import { takeOff } from './take-off.ts'
import { tell } from './tell.ts'
import type { TriggerKind } from '../triggers/trigger.ts'

/** The kinds of action, in the order they are offered. */
const ALL = [
  ...([remind, tell, comment] as const),
  ...([assign, addPeople, takeOff, follow] as const),
  ...([setState, setPriority, moveDue, tag] as const),
  ...([addStep, makeTask, makeSubtask] as const),
] as const
/** One action of a rule, with its arguments. */
export type Action = StepOf<(typeof ALL)[number]>

const catalogue = new Map<string, ActionKind>(ALL.map((kind) => [kind.kind, kind as ActionKind]))
export const actionKind = (kind: string): ActionKind | undefined => catalogue.get(kind)
export const actionKinds = (): ActionKind[] => [...catalogue.values()]
/** The kinds of action that can be done with what a trigger is about. */
export const actionsFor = ({ about }: Pick<TriggerKind, 'about'>): ActionKind[] =>
  actionKinds().filter(({ needs }) => needs === about)
/** Puts a kind of action where rules, their forms and their checks find it. */
export const addAction = (kind: ActionKind): void => void catalogue.set(kind.kind, kind)
