import type { StepOf } from '#contract/actions/action.ts'
import type { tick as kind } from '#contract/actions/tick.ts'
import { itemsOf } from '../../tasks/queries.ts'
import type { Does } from './does.ts'

export const tick: Does<StepOf<typeof kind>> = (run, action) => {
  const { engine, write, task, account } = run
  const title = run.text(action.title).trim()
  const called = itemsOf
    .all(engine.reader, { id: task.id })
    .filter((item) => title === '' || item.title.toLowerCase() === title.toLowerCase())
  if (called.length === 0)
    return void account.left.push(title ? `It has no step “${title}”` : 'It has no steps')
  for (const { id } of called) write.update('checklistItems', id, { done: true })
  account.did.push(title ? `Ticked “${title}”` : 'Ticked all its steps')
}
