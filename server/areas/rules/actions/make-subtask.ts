import type { StepOf } from '#contract/actions/action.ts'
import type { makeSubtask as kind } from '#contract/actions/make-subtask.ts'
import { insertTask } from '../../tasks/write.ts'
import { dayOf, ofARule, whoOf, worded, type Does } from './does.ts'

export const makeSubtask: Does<StepOf<typeof kind>> = (run, action) => {
  const { engine, write, rule, task, account } = run
  if (ofARule(run, 'No subtask')) return
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
