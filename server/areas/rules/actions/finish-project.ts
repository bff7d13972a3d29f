import type { StepOf } from '#contract/actions/action.ts'
import type { finishProject as kind } from '#contract/actions/finish-project.ts'
import { needRecord } from '../../projects/service.ts'
import type { Does } from './does.ts'

export const finishProject: Does<StepOf<typeof kind>> = ({ engine, write, task, account }) => {
  if (!task.project) return void account.left.push('It is in no project')
  const now = needRecord(engine, task.project.id)
  if (now.closedAt !== null) return void account.left.push('Its project is finished already')
  write.update('projects', now, { closedAt: write.at, version: now.version + 1 })
  account.did.push(`Finished ${now.name}`)
}
