import { sayDate } from '#core/text/speak.ts'
import { isBranch } from '#core/rules/program.ts'
import type { Action, Deed } from '#contract/rules.ts'
import type { AlarmKind } from '../../engine/handlers.ts'
import type { AlarmRow } from '../../engine/queries.ts'
import { hasRun } from '../../engine/runs.ts'
import type { Engine } from '../../engine/services.ts'
import { drop, ladderFailed, planRepeat, standing } from './ladder.ts'
import { carryOut } from './run.ts'

export const comesAgain = (action: Action): boolean => action.kind === 'remind' && action.daily
/** Of what is done, what comes again every day. */
const againOf = (deeds: readonly Deed[]): Deed[] =>
  deeds.flatMap((deed): Deed[] => {
    if (!isBranch<Action>(deed)) return comesAgain(deed) ? [deed] : []
    const [actions, otherwise] = [
      deed.actions.filter(comesAgain),
      deed.otherwise.filter(comesAgain),
    ]
    return actions.length + otherwise.length ? [{ ...deed, actions, otherwise }] : []
  })

/**
 * An alarm of a daily reminder: reminds again while the task stands on the same rung, and that still
 * reminds daily.
 */
function remindAgain(engine: Engine, alarm: AlarmRow): void {
  const found = standing(engine, alarm)
  const on = found?.task.rung
  if (!found?.acts || found.rests || on?.at !== found.index + 1 || on.ruleId !== alarm.ruleId)
    return drop(engine, alarm)
  const { rule, about, task, rung, index, due } = found
  const again = againOf(rung.actions)
  if (again.length === 0) return drop(engine, alarm)
  const key = `repeat:${rule.id}:${task.id}:${due}:${rung.key}:${engine.firm.today()}`
  engine.journal.change({ kind: 'rule', id: rule.id }, (write) => {
    const because = [`Still on rung ${index + 1}, due ${sayDate(task.due)}`]
    const name = `Rung ${index + 1} again`
    if (!hasRun(engine.reader, key))
      carryOut(engine, write, { rule, about, task, key, name, because }, again)
    planRepeat(engine, write, found)
  })
}

export const repeatKind: AlarmKind = { kind: 'repeat', run: remindAgain, failed: ladderFailed }
