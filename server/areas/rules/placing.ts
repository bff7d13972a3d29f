import type { Trigger } from '#contract/rules.ts'
import type { AlarmKind } from '../../engine/handlers.ts'
import { ENGINE, type Writer } from '../../engine/journal.ts'
import { alarmByKey, alarmsOfRule, type AlarmRow } from '../../engine/queries.ts'
import type { Engine } from '../../engine/services.ts'
import { repeatKey } from './ladder.ts'
import { ladderKey, ladderOf, planLadder, type LadderRule } from './ladder-alarms.ts'
import { forgetSome, putUpBecoming } from './becoming.ts'
import { putUpDated } from './dated.ts'
import { AT_ONCE, openDues, ruleById, type RuleRecord } from './queries.ts'

/** A rule that was switched, saved or paused: its ladder is put up, or taken down, in portions. */

/** Puts a ladder up over some tasks; answers how far it has come, or null when that were all. */
function putUpSome(
  engine: Engine,
  write: Writer,
  rule: LadderRule,
  placing: AlarmRow,
): AlarmRow['after'] {
  const { reader } = engine
  let after = placing.after
  const [due, id] = after ?? ['', 0]
  const some = openDues.all(reader, { due, id })
  for (const task of some) {
    if (task.due === null) continue
    after = [task.due, task.id]
    const old = alarmByKey.get(reader, { key: ladderKey(rule.id, task.id) })
    // A newer one was put up by what was done to the task meanwhile.
    if (old && old.id > placing.id) continue
    // What came again came for a rung that may be another one now.
    const again = alarmByKey.get(reader, { key: repeatKey(rule.id, task.id) })
    for (const stale of [old, again]) if (stale) write.remove('alarms', stale.id)
    const at = { date: task.due, time: task.dueTime }
    planLadder(engine, write, rule, { id: task.id, due: at, from: rule.since })
  }
  return some.length < AT_ONCE ? null : after
}

/** Takes some of a rule's alarms down, but those of some kinds; answers whether there may be more. */
function takeDownSome(
  engine: Engine,
  write: Writer,
  id: number,
  but: readonly AlarmRow['kind'][] = [],
): boolean {
  const some = alarmsOfRule.all(engine.reader, { id, but: JSON.stringify(but) })
  for (const alarm of some) write.remove('alarms', alarm.id)
  if (some.length > 0) return true
  return !but.includes('check') && forgetSome(engine, write, id)
}

/** How a rule that time wakes is put up, in portions, and what alarms it has. */
interface Placer {
  readonly kinds: readonly AlarmRow['kind'][]
  readonly some: (
    engine: Engine,
    write: Writer,
    rule: RuleRecord,
    placing: AlarmRow,
  ) => AlarmRow['after']
}
const PLACERS: Readonly<Partial<Record<Trigger['kind'], Placer>>> = {
  late: {
    kinds: ['ladder', 'repeat'],
    some(engine, write, rule, placing) {
      const ladder = ladderOf(rule)
      return ladder ? putUpSome(engine, write, ladder, placing) : null
    },
  },
  dated: { kinds: ['dated'], some: putUpDated },
  'becomes-true': { kinds: ['check'], some: putUpBecoming },
}
/** Does one portion; answers how far it has come, or null when that was all. */
function portion(
  engine: Engine,
  write: Writer,
  rule: RuleRecord | undefined,
  alarm: AlarmRow,
): AlarmRow['after'] | 'again' {
  const atWork = rule?.on === true && rule.pausedBecause === null
  const placer = atWork ? PLACERS[rule.definition.trigger.kind] : undefined
  // What it had by another trigger goes first; with none, all goes.
  if (takeDownSome(engine, write, alarm.itemId, placer?.kinds)) return 'again'
  return rule && placer ? placer.some(engine, write, rule, alarm) : null
}

/** One portion of putting a rule up. It is due before all else, so no stale alarm is acted on. */
function place(engine: Engine, alarm: AlarmRow): void {
  const rule = ruleById.get(engine.reader, { id: alarm.itemId })
  engine.journal.change(ENGINE, (write) => {
    const after = portion(engine, write, rule, alarm)
    if (after === null) write.remove('alarms', alarm.id)
    else if (after !== 'again') write.update('alarms', alarm, { after })
  })
}

const MINUTE = 60_000
function placeLater({ journal, reader }: Engine, { key }: AlarmRow): void {
  const left = alarmByKey.get(reader, { key })
  if (left)
    journal.change(ENGINE, (write) => write.update('alarms', left, { at: write.at + MINUTE }))
}

export const placingKind: AlarmKind = { kind: 'placing', run: place, failed: placeLater }
