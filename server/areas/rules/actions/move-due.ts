import { workingDayAfter } from '#core/calendar/calendar.ts'
import { addDays, isoDate, workDay } from '#core/calendar/dates.ts'
import { sayDate } from '#core/text/speak.ts'
import type { StepOf } from '#contract/actions/action.ts'
import type { moveDue as kind } from '#contract/actions/move-due.ts'
import { needContext, patchTask } from '../../tasks/write.ts'
import type { Does } from './does.ts'

export const moveDue: Does<StepOf<typeof kind>> = (run, { days, unit, from }) => {
  const { engine, write, task, account } = run
  const today = engine.firm.today()
  if (from === 'due' && task.due === null)
    return void account.left.push('It has no due date to count from')
  const first = from === 'due' && task.due !== null ? isoDate(task.due) : today
  const due = workDay(
    unit === 'working'
      ? workingDayAfter(engine.firm.calendar(), first, days)
      : addDays(first, days),
  )
  if (task.start !== null && due < task.start)
    return void account.left.push('It would be due before it starts')
  patchTask(engine, write, needContext(engine, task.id), { due })
  account.did.push(`Made it due ${sayDate(due, today)}`)
}
