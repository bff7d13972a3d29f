import type { Action } from '#contract/rules.ts'
import { addPeople } from './add-people.ts'
import { addStep } from './add-step.ts'
import { assign } from './assign.ts'
import { bringNext } from './bring-next.ts'
import { comment } from './comment.ts'
import type { Does, LiveRun } from './does.ts'
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
import { tag } from './tag.ts'
import { takeOff } from './take-off.ts'
import { tell } from './tell.ts'
import { tick } from './tick.ts'
import { unshare } from './unshare.ts'

/** What steers a run is the run's own to do. */
type Done = Exclude<Action['kind'], 'wait' | 'stop'>
type Every = { readonly [K in Done]: Does<Extract<Action, { kind: K }>> }
const EVERY: Every = {
  ...{ remind, tell, comment, assign, follow, tag },
  ...{ 'add-people': addPeople, 'take-off': takeOff, 'add-step': addStep },
  ...{ 'set-state': setState, 'set-priority': setPriority, 'move-due': moveDue },
  ...{ 'make-task': makeTask, 'make-subtask': makeSubtask, tick, share, unshare },
  ...{ 'set-field': setField, 'set-date': setDate, 'keep-reminding': keepReminding },
  ...{ 'finish-phase': finishPhase, 'finish-project': finishProject },
  ...{ 'project-state': projectState, 'start-project': startProject },
  ...{ 'bring-next': bringNext },
}

const catalogue = new Map<string, Does<Action>>(Object.entries(EVERY))
/** Puts what a kind of action does where runs find it. */
export const addDoes = (kind: string, does: Does<Action>): void => void catalogue.set(kind, does)

/** Does the `nth` action of a run, and accounts for it. @throws Error for one nobody knows */
export function act(run: LiveRun, action: Action, nth: number): void {
  const does = catalogue.get(action.kind)
  if (!does) throw new Error(`Nothing knows what the action “${action.kind}” does.`)
  does(run, action, nth)
}
