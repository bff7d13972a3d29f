import type { StepOf } from '#contract/actions/action.ts'
import type { commented as kind } from '#contract/triggers/commented.ts'
import type { Wakes } from './wake.ts'

export const commented: Wakes<StepOf<typeof kind>> = {
  on: () => ['comment.made'],
  by: () => true,
}
