import type { StepOf } from '#contract/actions/action.ts'
import type { keepReminding as kind } from '#contract/actions/keep-reminding.ts'
import { planAgain } from '../again.ts'
import type { Does } from './does.ts'

export const keepReminding: Does<StepOf<typeof kind>> = (run, action, nth) => {
  const at = planAgain(run, action, nth)
  run.account.did.push(`Reminds daily from ${at}`)
}
