import { actionsIn } from '#core/rules/program.ts'
import { sayDate } from '#core/text/speak.ts'
import type { Action } from '#contract/rules.ts'
import type { AlarmKind } from '../../engine/handlers.ts'
import { ENGINE, type Writer } from '../../engine/journal.ts'
import type { AlarmRow } from '../../engine/queries.ts'
import { hasRun } from '../../engine/runs.ts'
import type { Engine } from '../../engine/services.ts'
import { drop, ladderFailed, planRepeat, rungAfter, standing, type Standing } from './ladder.ts'
import { comesAgain } from './repeat.ts'
import { carryOut, judge, leave, type Planned } from './run.ts'
import { sayVerdict } from './say.ts'
import { lateBy } from './texts.ts'

/** Fires one rung for one task, once per due date. */
function fire(engine: Engine, write: Writer, at: Standing): void {
  const { rule, about, task, rung, index, due } = at
  const key = `ladder:${rule.id}:${task.id}:${due}:${rung.key}`
  if (hasRun(engine.reader, key)) return
  const verdict = judge(engine, rule, task)
  const reasons = sayVerdict(engine, verdict)
  const planned: Planned = { rule, about, task, key, name: `Rung ${index + 1}`, because: [] }
  if (!verdict.holds)
    return leave(engine, write, { ...planned, name: `Rung ${index + 1} skipped` }, reasons)
  const because = [`${lateBy(engine, task)} late, due ${sayDate(task.due)}`, ...reasons]
  write.update('tasks', task.id, { rung: index + 1, rungOf: rule.id })
  carryOut(engine, write, { ...planned, because }, rung.actions)
  if (actionsIn<Action>(rung.actions).some(comesAgain)) planRepeat(engine, write, at)
}

/**
 * An alarm of a ladder: fires its rung, or passes it by where the task stands still, then waits for
 * the next one.
 */
function climb(engine: Engine, alarm: AlarmRow): void {
  const found = standing(engine, alarm)
  if (!found) return drop(engine, alarm)
  const next = rungAfter(engine, found)
  const fires = !found.rests && found.acts
  engine.journal.change(fires ? { kind: 'rule', id: found.rule.id } : ENGINE, (write) => {
    // It goes on first: a rung that moves the due, or closes the task, puts up another in its place.
    if (next) write.update('alarms', alarm, { at: next.at, rung: next.index })
    else write.remove('alarms', alarm.id)
    if (fires) fire(engine, write, found)
  })
}

export const ladderKind: AlarmKind = { kind: 'ladder', run: climb, failed: ladderFailed }
