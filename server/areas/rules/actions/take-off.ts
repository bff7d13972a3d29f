import type { StepOf } from '#contract/actions/action.ts'
import type { takeOff as kind } from '#contract/actions/take-off.ts'
import { needContext, patchTask } from '../../tasks/write.ts'
import { assigned, someone, type Does } from './does.ts'

export const takeOff: Does<StepOf<typeof kind>> = (run, { who }) => {
  const { engine, write, task, account } = run
  const them = someone(run, who, 'Taking off', 'themselves')
  if (!them) return
  const now = assigned(run)
  const assignees = now.filter((id) => !them.people.includes(id))
  if (assignees.length === now.length) return void account.left.push(`${them.names} was not on it`)
  patchTask(engine, write, needContext(engine, task.id), { assignees })
  account.did.push(`Took ${them.names} off it`)
}
