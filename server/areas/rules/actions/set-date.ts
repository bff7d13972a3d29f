import { workingDayAfter } from '#core/calendar/calendar.ts'
import { addDays, workDay } from '#core/calendar/dates.ts'
import { editOf } from '#core/fields/parse.ts'
import { sayDate } from '#core/text/speak.ts'
import type { StepOf } from '#contract/actions/action.ts'
import type { setDate as kind } from '#contract/actions/set-date.ts'
import { taskFields } from '../../fields/queries.ts'
import { needContext, patchTask } from '../../tasks/write.ts'
import type { Does } from './does.ts'

export const setDate: Does<StepOf<typeof kind>> = (run, { field: path, days, unit }) => {
  const { engine, write, task, account } = run
  const field = taskFields(engine.reader)(path)
  if (!field) return void account.left.push('The date that it sets is gone')
  const today = engine.firm.today()
  const { firm } = engine
  const to =
    unit === 'working' ? workingDayAfter(firm.calendar(), today, days) : addDays(today, days)
  const date = workDay(to)
  const context = needContext(engine, task.id)
  if (path === 'start' && context.task.due !== null && date > context.task.due)
    return void account.left.push('It would start after it is due')
  patchTask(engine, write, context, editOf(field, date))
  const said = field.readers === 'managers' ? '' : ` to ${sayDate(date, today)}`
  account.did.push(`Set ${field.label.toLowerCase()}${said}`)
}
