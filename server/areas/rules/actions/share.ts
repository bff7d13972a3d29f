import type { StepOf } from '#contract/actions/action.ts'
import type { share as kind } from '#contract/actions/share.ts'
import { sharesOfProject } from '../../access/queries.ts'
import { writeShares } from '../../access/service.ts'
import { someone, type Does } from './does.ts'

export const share: Does<StepOf<typeof kind>> = (run, { who, may }) => {
  const { engine, write, task, account } = run
  if (!task.project) return void account.left.push('It is in no project')
  const them = someone(run, who, 'Sharing', 'themselves')
  if (!them) return
  const projectId = task.project.id
  const there = sharesOfProject.all(engine.reader, { id: projectId })
  writeShares(write, { people: [...them.people], may }, { projectId }, there)
  account.did.push(`Shared ${task.project.name} with ${them.names}`)
}
