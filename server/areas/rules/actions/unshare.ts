import type { StepOf } from '#contract/actions/action.ts'
import type { unshare as kind } from '#contract/actions/unshare.ts'
import { sharesOfProject } from '../../access/queries.ts'
import { someone, type Does } from './does.ts'

export const unshare: Does<StepOf<typeof kind>> = (run, { who }) => {
  const { engine, write, task, account } = run
  if (!task.project) return void account.left.push('It is in no project')
  const them = someone(run, who, 'Taking back', 'themselves')
  if (!them) return
  const theirs = sharesOfProject
    .all(engine.reader, { id: task.project.id })
    .filter(({ personId }) => them.people.includes(personId))
  if (theirs.length === 0)
    return void account.left.push(`${task.project.name} was not shared with ${them.names}`)
  for (const { id } of theirs) write.remove('shares', id)
  account.did.push(`Shared ${task.project.name} with ${them.names} no more`)
}
