import type { StepOf } from '#contract/actions/action.ts'
import type { setState as kind } from '#contract/actions/set-state.ts'
import { STATE_NAMES } from '#contract/words.ts'
import { firstOfKind, setOf, statesOf } from '../../states/queries.ts'
import { needContext, patchTask } from '../../tasks/write.ts'
import type { Does } from './does.ts'

export const setState: Does<StepOf<typeof kind>> = (run, { to }) => {
  const { engine, write, task, account } = run
  const context = needContext(engine, task.id)
  const name = STATE_NAMES[to].toLowerCase()
  if (!firstOfKind(statesOf(engine.reader, setOf(engine.reader, context.task.projectId)), to))
    return void account.left.push(`The states here have none of the kind “${name}”`)
  patchTask(engine, write, context, { state: to })
  account.did.push(`Made it ${name}`)
}
