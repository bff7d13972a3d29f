import type { StepOf } from '#contract/actions/action.ts'
import type { projectState as kind } from '#contract/actions/project-state.ts'
import { needRecord, stateColumns } from '../../projects/service.ts'
import type { Does } from './does.ts'

export const projectState: Does<StepOf<typeof kind>> = (
  { engine, write, task, account },
  { to },
) => {
  if (!task.project) return void account.left.push('It is in no project')
  const now = needRecord(engine, task.project.id)
  const called = engine.firm.projectNames()[to].toLowerCase()
  if (now.state === to) return void account.left.push(`Its project is ${called} already`)
  write.update('projects', now, { ...stateColumns(engine, now, to), version: now.version + 1 })
  account.did.push(`Set ${now.name} to ${called}`)
}
