import type { StepOf } from '#contract/actions/action.ts'
import type { addPeople as kind } from '#contract/actions/add-people.ts'
import { needContext, patchTask } from '../../tasks/write.ts'
import { assigned, dayOf, someone, type Does } from './does.ts'

export const addPeople: Does<StepOf<typeof kind>> = (run, { who }) => {
  const { engine, write, task, account } = run
  const them = someone(run, who, 'Adding', dayOf(run))
  if (!them) return
  const assignees = [...new Set([...assigned(run), ...them.people])]
  patchTask(engine, write, needContext(engine, task.id), { assignees })
  account.did.push(`Put ${them.names} on it`)
}
