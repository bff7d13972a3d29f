import { taskField } from '#core/fields/catalogue.ts'
import { isRef, type Value } from '#core/fields/types.ts'
import type { StepOf } from '#contract/actions/action.ts'
import type { changed as kind } from '#contract/triggers/changed.ts'
import type { Wakes } from './wake.ts'

type Trigger = StepOf<typeof kind>
const among = ({ to }: Trigger, values: readonly unknown[]): boolean =>
  to.length === 0 || values.some((value) => to.some((each) => each === value))
const listed = (value: unknown): readonly unknown[] => (Array.isArray(value) ? value : [value])
const keys = (value: Value): readonly unknown[] =>
  listed(value).map((each) => (isRef(each) ? each.id : each))

export const changed: Wakes<Trigger> = {
  on: ({ field }) => [`task.changed:${field}`],
  by(trigger, event) {
    const change = event.kind === 'task.changed' ? event.fields[trigger.field] : undefined
    return change !== undefined && among(trigger, listed(change.to))
  },
  stands(trigger, task) {
    const field = taskField(trigger.field)
    if (trigger.to.length === 0 || !field) return true
    return among(trigger, keys(field.read(task, { today: '' })))
  },
}
