import { sayDate } from '#core/text/speak.ts'
import type { Action } from '#contract/rules.ts'
import type { AlarmKind } from '../../engine/handlers.ts'
import type { AlarmRow } from '../../engine/queries.ts'
import { hasRun } from '../../engine/runs.ts'
import type { Engine } from '../../engine/services.ts'
import { drop, ladderFailed, planRepeat, standing } from './ladder.ts'
import { carryOut } from './run.ts'

const comesAgain = ([, action]: [number, Action]): boolean =>
  action.kind === 'remind' && action.daily

/**
 * An alarm of a daily reminder: reminds again while the task stands on the same rung, and that still
 * reminds daily.
 */
function remindAgain(engine: Engine, alarm: AlarmRow): void {
  const found = standing(engine, alarm)
  const on = found?.task.rung
  if (!found || found.rests || on?.at !== found.index + 1 || on.ruleId !== alarm.ruleId)
    return drop(engine, alarm)
  const { rule, task, rung, index, due } = found
  const again = [...rung.actions.entries()].filter(comesAgain)
  if (again.length === 0) return drop(engine, alarm)
  const key = `repeat:${rule.id}:${task.id}:${due}:${rung.key}:${engine.firm.today()}`
  engine.journal.change({ kind: 'rule', id: rule.id }, (write) => {
    const because = [`Still on rung ${index + 1}, due ${sayDate(task.due)}`]
    const name = `Rung ${index + 1} again`
    if (!hasRun(engine.reader, key))
      carryOut(engine, write, { rule, task, key, name, because }, again)
    planRepeat(engine, write, found)
  })
}

export const repeatKind: AlarmKind = { kind: 'repeat', run: remindAgain, failed: ladderFailed }
