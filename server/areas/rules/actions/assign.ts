import { isoDate } from '#core/calendar/dates.ts'
import type { StepOf } from '#contract/actions/action.ts'
import type { assign as kind } from '#contract/actions/assign.ts'
import { needContext, patchTask } from '../../tasks/write.ts'
import { someone, type Does } from './does.ts'

export const assign: Does<StepOf<typeof kind>> = (run, { who }) => {
  const { engine, write, task, account } = run
  const [today, due] = [engine.firm.today(), task.due && isoDate(task.due)]
  // Who is away now and back in time does the work themselves.
  const them = someone(run, who, 'Assigning', due && due > today ? due : today)
  if (!them) return
  patchTask(engine, write, needContext(engine, task.id), { assignees: [...them.people] })
  account.did.push(`Assigned ${them.names}`)
}
