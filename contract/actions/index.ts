import { isWho, OF_TASKS, type About, type ActionKind, type Arg, type StepOf } from './action.ts'
import { addPeople } from './add-people.ts'
import { addStep } from './add-step.ts'
import { assign } from './assign.ts'
import { bringNext } from './bring-next.ts'
import { comment } from './comment.ts'
import { finishPhase } from './finish-phase.ts'
import { finishProject } from './finish-project.ts'
import { follow } from './follow.ts'
import { keepReminding } from './keep-reminding.ts'
import { makeSubtask } from './make-subtask.ts'
import { makeTask } from './make-task.ts'
import { moveDue } from './move-due.ts'
import { projectState } from './project-state.ts'
import { remind } from './remind.ts'
import { setDate } from './set-date.ts'
import { setField } from './set-field.ts'
import { setPriority } from './set-priority.ts'
import { setState } from './set-state.ts'
import { share } from './share.ts'
import { startProject } from './start-project.ts'
import { stop } from './stop.ts'
import { tag } from './tag.ts'
import { takeOff } from './take-off.ts'
import { tell } from './tell.ts'
import { tick } from './tick.ts'
import { unshare } from './unshare.ts'
import { wait } from './wait.ts'
import type { TriggerKind } from '../triggers/trigger.ts'

/** The kinds of action, in the order they are offered. */
const ALL = [
  ...([remind, keepReminding, tell, comment] as const),
  ...([assign, addPeople, takeOff, follow] as const),
  ...([setState, setPriority, moveDue, setDate, setField, tag] as const),
  ...([addStep, tick, makeTask, makeSubtask] as const),
  ...([finishPhase, finishProject, projectState, startProject, bringNext] as const),
  ...([share, unshare] as const),
  ...([wait, stop] as const),
] as const
/** One action of a rule, with its arguments. */
export type Action = StepOf<(typeof ALL)[number]>

const catalogue = new Map<string, ActionKind>(ALL.map((kind) => [kind.kind, kind as ActionKind]))
export const actionKind = (kind: string): ActionKind | undefined => catalogue.get(kind)
export const actionKinds = (): ActionKind[] => [...catalogue.values()]
/** Whether an action can be done where a rule is about something: a task is in a project as well. */
export const canDo = ({ needs }: Pick<ActionKind, 'needs'>, about: About): boolean =>
  needs === 'any' || needs === about || (needs === 'project' && about === 'task')
/** The kinds of action that can be done with what a trigger is about. */
export const actionsFor = ({ about }: Pick<TriggerKind, 'about'>): ActionKind[] =>
  actionKinds().filter((kind) => canDo(kind, about))
/** What is written of a task is written of whatever else a rule is about. */
const OTHERWISE: Readonly<Record<Exclude<About, 'task'>, string>> = {
  project: '{project}',
  client: '{client}',
}
/** An action of a kind, as it begins where a rule is about something. */
export function blankOf({ kind, args, blank }: ActionKind, about: About): Action {
  const values = Object.entries<Arg>(args as Record<string, Arg>).map(([name, arg]) => {
    const value = (blank as Readonly<Record<string, unknown>>)[name]
    if (about === 'task') return [name, value]
    if (arg.type === 'who' && isWho(value) && OF_TASKS.has(value.is)) return [name, { is: 'owner' }]
    return [name, typeof value === 'string' ? value.replace('{task}', OTHERWISE[about]) : value]
  })
  return { kind, ...Object.fromEntries(values) } as Action
}

/** Puts a kind of action where rules, their forms and their checks find it. */
export const addAction = (kind: ActionKind): void => void catalogue.set(kind.kind, kind)
