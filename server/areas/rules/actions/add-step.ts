import type { StepOf } from '#contract/actions/action.ts'
import type { addStep as kind } from '#contract/actions/add-step.ts'
import { nextItemPlace } from '../../tasks/checklist.ts'
import { worded, type Does } from './does.ts'

export const addStep: Does<StepOf<typeof kind>> = (run, action) => {
  const { engine, write, task, account } = run
  const title = worded(run, action.title, 200)
  if (title === null) return
  const position = nextItemPlace(engine, task.id)
  write.insert('checklistItems', { taskId: task.id, title, position })
  account.did.push(`Added “${title}” to its checklist`)
}
