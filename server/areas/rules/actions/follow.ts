import type { StepOf } from '#contract/actions/action.ts'
import type { follow as kind } from '#contract/actions/follow.ts'
import { needContext, patchTask } from '../../tasks/write.ts'
import { followsOf } from '../../tasks/queries.ts'
import { listeners, type Does } from './does.ts'

export const follow: Does<StepOf<typeof kind>> = (run, { who }) => {
  const { engine, write, task, account } = run
  const them = listeners(run, who, 'Following', 'themselves')
  if (!them) return
  const now = followsOf.all(engine.reader, { id: task.id }).map((row) => row.personId)
  const followers = [...new Set([...now, ...them.people])]
  patchTask(engine, write, needContext(engine, task.id), { followers })
  account.did.push(`Added ${them.names} as a follower`)
}
