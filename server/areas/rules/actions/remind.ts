import type { StepOf } from '#contract/actions/action.ts'
import type { remind as kind } from '#contract/actions/remind.ts'
import { listeners, tellThem, type Does } from './does.ts'

export const remind: Does<StepOf<typeof kind>> = (run, { who, text }, nth) => {
  const them = listeners(run, who, 'Reminding')
  if (!them) return
  tellThem(run, them, 'reminder', { text: run.text(text), mail: true, nth })
  run.account.did.push(`Reminded ${them.names}`)
}
