import type { Action } from '#contract/rules.ts'
import { addPeople } from './add-people.ts'
import { addStep } from './add-step.ts'
import { assign } from './assign.ts'
import { comment } from './comment.ts'
import type { Does, LiveRun } from './does.ts'
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

type Every = { readonly [K in Action['kind']]: Does<Extract<Action, { kind: K }>> }
const EVERY: Every = {
  ...{ remind, tell, comment, assign, follow, tag },
  ...{ 'add-people': addPeople, 'take-off': takeOff, 'add-step': addStep },
  ...{ 'set-state': setState, 'set-priority': setPriority, 'move-due': moveDue },
  ...{ 'make-task': makeTask, 'make-subtask': makeSubtask },
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
