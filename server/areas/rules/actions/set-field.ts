import { editOf } from '#core/fields/parse.ts'
import { sayValue } from '#core/fields/say.ts'
import type { StepOf } from '#contract/actions/action.ts'
import type { setField as kind } from '#contract/actions/set-field.ts'
import { personName } from '../../people/queries.ts'
import { taskFields } from '../../fields/queries.ts'
import { statesOf, setOf } from '../../states/queries.ts'
import { needContext, patchTask } from '../../tasks/write.ts'
import type { Does } from './does.ts'

export const setField: Does<StepOf<typeof kind>> = (run, { field: path, value }) => {
  const { engine, write, task, account } = run
  const { reader, firm } = engine
  const field = taskFields(reader)(path)
  if (!field) return void account.left.push('The field that it sets is gone')
  const context = needContext(engine, task.id)
  const name = field.label.toLowerCase()
  if (field.to === 'state') {
    const state = statesOf(reader, setOf(reader, context.task.projectId)).find(
      (s) => s.id === value,
    )
    if (!state) return void account.left.push('The state that it sets is none of those here')
    patchTask(engine, write, context, { stateId: state.id })
    return void account.did.push(`Made it ${state.name}`)
  }
  patchTask(engine, write, context, editOf(field, value))
  // Who may not read it is not told of it by the run log either.
  if (field.readers === 'managers') return void account.did.push(`Set ${name}`)
  const at = { today: firm.today(), zone: firm.zone(), clock: firm.dates().clock }
  const held = field.to === 'person' ? personName(reader, Number(value)) : value
  const said = sayValue(field, held, at)
  account.did.push(said ? `Set ${name} to ${said}` : `Emptied ${name}`)
}
