import type { StepOf } from '#contract/actions/action.ts'
import type { makeSubtask as kind } from '#contract/actions/make-subtask.ts'
import { insertTask } from '../../tasks/write.ts'
import { madeByRule } from '../queries.ts'
import { dayOf, whoOf, worded, type Does } from './does.ts'

export const makeSubtask: Does<StepOf<typeof kind>> = (run, action) => {
  const { engine, write, rule, task, account } = run
  // As with tasks: what a rule made makes nothing further.
  if (madeByRule.get(engine.reader, { task: task.id }))
    return void account.left.push('No subtask: this one was made by a rule already')
  const title = worded(run, action.title, 200)
  if (title === null) return
  const { people, names } = whoOf(run, action.who, dayOf(run))
  const id = insertTask(engine, write, {
    ...{ title, assignees: [...people], creatorId: rule.ownerId, parentId: task.id },
    projectId: task.project?.id ?? null,
    phaseId: task.phaseId,
    clientId: task.client?.id ?? null,
    due: task.due,
  })
  account.did.push(`Made subtask #${id} “${title}”${names ? ` for ${names}` : ''}`)
}
