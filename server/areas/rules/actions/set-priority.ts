import type { StepOf } from '#contract/actions/action.ts'
import type { setPriority as kind } from '#contract/actions/set-priority.ts'
import { needContext, patchTask } from '../../tasks/write.ts'
import type { Does } from './does.ts'

export const setPriority: Does<StepOf<typeof kind>> = (run, { to }) => {
  const { engine, write, task, account } = run
  patchTask(engine, write, needContext(engine, task.id), { priority: to })
  account.did.push(`Set priority ${to}`)
}
