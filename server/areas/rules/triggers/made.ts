import type { StepOf } from '#contract/actions/action.ts'
import type { made as kind } from '#contract/triggers/made.ts'
import type { Wakes } from './wake.ts'

export const made: Wakes<StepOf<typeof kind>> = {
  on: () => ['task.made'],
  by: () => true,
}
