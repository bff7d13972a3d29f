import { and, eq, isNull } from 'drizzle-orm'
import type { PhaseId } from '#core/brands.ts'
import type { StepOf } from '#contract/actions/action.ts'
import type { finishPhase as kind } from '#contract/actions/finish-phase.ts'
import { plural } from '#core/text/speak.ts'
import { within } from '../../../database/query.ts'
import { tasks } from '../../../database/tables/index.ts'
import { needContext, patchTask } from '../../tasks/write.ts'
import type { Does } from './does.ts'

/** More are finished by a person: a run is one step. */
const MOST = 100
const openIn = within((orm, a: { id: PhaseId }) =>
  orm
    .select({ id: tasks.id })
    .from(tasks)
    .where(and(eq(tasks.phaseId, a.id), isNull(tasks.closedAt), isNull(tasks.archivedAt))),
)
export const finishPhase: Does<StepOf<typeof kind>> = ({ engine, write, task, account }) => {
  if (task.phaseId === null) return void account.left.push('It is in no phase')
  const open = openIn.all(engine.reader, { id: task.phaseId })
  if (open.length === 0) return void account.left.push('Its phase is finished already')
  if (open.length > MOST)
    return void account.left.push(`Its phase has more than ${plural(MOST, 'open task')}`)
  for (const { id } of open) patchTask(engine, write, needContext(engine, id), { state: 'done' })
  account.did.push(`Finished ${task.phaseName}: ${plural(open.length, 'task')} done`)
}
