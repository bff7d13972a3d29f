import type { StepOf } from '#contract/actions/action.ts'
import type { setState as kind } from '#contract/actions/set-state.ts'
import { STATE_NAMES } from '#contract/words.ts'
import { needContext, patchTask } from '../../tasks/write.ts'
import type { Does } from './does.ts'

export const setState: Does<StepOf<typeof kind>> = ({ engine, write, task, account }, { to }) => {
  patchTask(engine, write, needContext(engine, task.id), { state: to })
  account.did.push(`Made it ${STATE_NAMES[to].toLowerCase()}`)
}
