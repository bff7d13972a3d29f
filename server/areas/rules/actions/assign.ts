import type { StepOf } from '#contract/actions/action.ts'
import type { assign as kind } from '#contract/actions/assign.ts'
import { needContext, patchTask } from '../../tasks/write.ts'
import { dayOf, someone, type Does } from './does.ts'

export const assign: Does<StepOf<typeof kind>> = (run, { who }) => {
  const { engine, write, task, account } = run
  const them = someone(run, who, 'Assigning', dayOf(run))
  if (!them) return
  patchTask(engine, write, needContext(engine, task.id), { assignees: [...them.people] })
  account.did.push(`Assigned ${them.names}`)
}
