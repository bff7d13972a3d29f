import type { Action } from '#contract/rules.ts'
import { assign } from './assign.ts'
import type { Does, LiveRun } from './does.ts'
import { makeTask } from './make-task.ts'
import { remind } from './remind.ts'
import { setPriority } from './set-priority.ts'
import { tell } from './tell.ts'

type Every = { readonly [K in Action['kind']]: Does<Extract<Action, { kind: K }>> }
const EVERY: Every = { remind, tell, assign, 'set-priority': setPriority, 'make-task': makeTask }

const catalogue = new Map<string, Does<Action>>(Object.entries(EVERY))
/** Puts what a kind of action does where runs find it. */
export const addDoes = (kind: string, does: Does<Action>): void => void catalogue.set(kind, does)

/** Does the `nth` action of a run, and accounts for it. @throws Error for one nobody knows */
export function act(run: LiveRun, action: Action, nth: number): void {
  const does = catalogue.get(action.kind)
  if (!does) throw new Error(`Nothing knows what the action “${action.kind}” does.`)
  does(run, action, nth)
}
