import type { StepOf } from '#contract/actions/action.ts'
import type { bringNext as kind } from '#contract/actions/bring-next.ts'
import { bringNext as bring } from '../../series/event.ts'
import { ofARule, type Does } from './does.ts'

export const bringNext: Does<StepOf<typeof kind>> = (run, { series }, nth) => {
  const { engine, write, task, account, key } = run
  if (ofARule(run, 'Nothing of a series')) return
  const { did, left } = bring(engine, write, series, {
    ...{ event: `${key}:${nth}`, clientId: task.client?.id ?? null },
  })
  if (did !== undefined) account.did.push(did)
  if (left !== undefined) account.left.push(left)
}
