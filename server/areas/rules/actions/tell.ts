import type { StepOf } from '#contract/actions/action.ts'
import type { tell as kind } from '#contract/actions/tell.ts'
import { listeners, tellThem, type Does } from './does.ts'

export const tell: Does<StepOf<typeof kind>> = (run, { who, text, mail }, nth) => {
  const them = listeners(run, who, 'Telling')
  if (!them) return
  tellThem(run, them, 'escalation', { text: run.text(text), mail, nth })
  run.account.did.push(`Told ${them.names}`)
}
