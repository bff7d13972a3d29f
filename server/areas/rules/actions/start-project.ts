import { workingDayAfter } from '#core/calendar/calendar.ts'
import { plural } from '#core/text/speak.ts'
import type { StepOf } from '#contract/actions/action.ts'
import type { startProject as kind } from '#contract/actions/start-project.ts'
import { drained } from '../../../engine/portions.ts'
import { withUsual } from '../../clients/usual.ts'
import { templateById } from '../../templates/queries.ts'
import { projectSteps, tasksIn } from '../../templates/start.ts'
import { needRecord } from '../../projects/service.ts'
import { ofARule, worded, type Does } from './does.ts'

/** Larger ones are started by a person, or by a series: a run is one step. */
const MOST = 100

export const startProject: Does<StepOf<typeof kind>> = (run, { template, name: text, days }) => {
  const { engine, write, rule, task, account } = run
  const { reader, firm } = engine
  if (ofARule(run, 'No project')) return
  const row = templateById.get(reader, { id: template })
  if (!row || row.archivedAt !== null)
    return void account.left.push('The template that it starts is gone')
  if (tasksIn(engine, template) > MOST)
    return void account.left.push(`“${row.name}” has more than ${plural(MOST, 'task')}`)
  const name = worded(run, text, 160)
  if (name === null) return
  const clientId = task.client?.id ?? null
  const leadId = task.project ? needRecord(engine, task.project.id).leadId : rule.ownerId
  const steps = projectSteps(engine, write, template, {
    ...{ name, clientId, leadId, creatorId: rule.ownerId },
    anchor: workingDayAfter(firm.calendar(), firm.today(), days),
    roles: withUsual(engine, clientId, row.definition.roles ?? [], {}),
  })
  drained(steps)
  account.did.push(`Started “${name}”`)
}
