import { workingDayAfter } from '#core/calendar/calendar.ts'
import type { StepOf } from '#contract/actions/action.ts'
import type { makeTask as kind } from '#contract/actions/make-task.ts'
import { insertTask } from '../../tasks/write.ts'
import { ofARule, whoOf, worded, type Does } from './does.ts'

export const makeTask: Does<StepOf<typeof kind>> = (run, action) => {
  const { engine, write, rule, task, account } = run
  if (ofARule(run, 'No further task')) return
  const due = workingDayAfter(engine.firm.calendar(), engine.firm.today(), 1)
  const title = worded(run, action.title, 200)
  if (title === null) return
  const { people, names } = whoOf(run, action.who, due)
  const id = insertTask(engine, write, {
    ...{ title, assignees: [...people], creatorId: rule.ownerId },
    projectId: task.project?.id ?? null,
    clientId: task.client?.id ?? null,
    due,
  })
  account.did.push(`Made task #${id} “${title}”${names ? ` for ${names}` : ''}`)
}
