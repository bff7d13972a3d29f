import type { LocalTime, RuleId, TaskId } from '#core/brands.ts'
import { workingDayAfter } from '#core/calendar/calendar.ts'
import { isoDate, localTime, toInstant } from '#core/calendar/dates.ts'
import { rungAt, RUNG_TIME, type Due } from '#core/rules/ladder.ts'
import type { TaskFacts } from '#core/fields/facts.ts'
import { rungsOf, type Rung } from '#contract/rules.ts'
import { ENGINE, type Writer } from '../../engine/journal.ts'
import { alarmById, alarmByKey, type AlarmRow } from '../../engine/queries.ts'
import type { Engine } from '../../engine/services.ts'
import { factsOf } from '../tasks/facts.ts'
import { rests } from '../tasks/rest.ts'
import { rungDelays } from './ladder-alarms.ts'
import { ruleById, type RuleRecord } from './queries.ts'
import { fail } from './run.ts'
import { inScope, type Subject } from './subject.ts'

/** A task on a ladder: what its alarms have in common. */

/** A task that is late. */
export type LateTask = TaskFacts & { readonly due: string }
/** The rule, rung and late task behind an alarm. */
export interface Standing {
  readonly rule: RuleRecord
  readonly about: Subject
  readonly task: LateTask
  readonly rung: Rung
  readonly index: number
  /** The due this standing is for, as keys of runs name it. */
  readonly due: string
  /** Time brings nothing to it. */
  readonly rests: boolean
  /** The rule acts there: it is in its scope, and the rule not switched off for its project. */
  readonly acts: boolean
}

const isLateTask = (task: TaskFacts | undefined): task is LateTask =>
  task !== undefined && task.due !== null && task.closedAt === null

/** Where an alarm's task stands; undefined when the ladder no longer stands there. */
export function standing(engine: Engine, alarm: AlarmRow): Standing | undefined {
  const rule = alarm.ruleId === null ? undefined : ruleById.get(engine.reader, { id: alarm.ruleId })
  if (!rule?.on || rule.pausedBecause !== null) return undefined
  const task = factsOf(engine, alarm.itemId)
  if (!isLateTask(task)) return undefined
  const index = alarm.rung ?? 0
  const rung = rungsOf(rule.definition)[index]
  if (!rung) return undefined
  const due = `${task.due}${task.dueTime ?? ''}`
  return {
    ...{ rule, task, rung, index, due, about: { kind: 'task', id: task.id } },
    rests: rests(engine.reader, task.id),
    acts: inScope(engine.reader, rule, task),
  }
}

/** Where a rung's time of day is. */
const timeOf = (rung: Rung): LocalTime =>
  'hours' in rung.delay ? RUNG_TIME : localTime(rung.delay.time)

export const repeatKey = (rule: RuleId, task: TaskId): string => `repeat:${rule}:${task}`

/** A reminder that comes again: one alarm for the next working day at the rung's time. */
export function planRepeat({ reader, firm }: Engine, write: Writer, at: Standing): void {
  const { rule, task, rung, index } = at
  const key = repeatKey(rule.id, task.id)
  const old = alarmByKey.get(reader, { key })
  if (old) write.remove('alarms', old.id)
  const day = workingDayAfter(firm.calendar(), firm.today(), 1)
  write.insert('alarms', {
    at: toInstant(day, timeOf(rung), firm.zone()),
    kind: 'repeat',
    key,
    ruleId: rule.id,
    itemKind: 'task',
    itemId: task.id,
    rung: index,
  })
}

/** The rung after one on a ladder, in the order they fire; undefined after the last. */
export function rungAfter({ firm }: Engine, { rule, task, index }: Standing) {
  const time = task.dueTime === null ? null : localTime(task.dueTime)
  const place: Due = { date: isoDate(task.due), time }
  const order = rungDelays(rule.definition)
    .map((delay, i) => ({ index: i, at: rungAt(delay, place, firm.calendar(), firm.zone()) }))
    .sort((a, b) => a.at - b.at || a.index - b.index)
  return order[order.findIndex((each) => each.index === index) + 1]
}

export function drop(engine: Engine, alarm: AlarmRow): void {
  engine.journal.change(ENGINE, (write) => write.remove('alarms', alarm.id))
}

const HOUR = 3_600_000
/** Records that an alarm's rule failed, and tries again in an hour. */
export function ladderFailed(engine: Engine, alarm: AlarmRow, reason: string): void {
  const { reader, journal } = engine
  const rule = alarm.ruleId === null ? undefined : ruleById.get(reader, { id: alarm.ruleId })
  const task = factsOf(engine, alarm.itemId)
  journal.change(ENGINE, (write) => {
    const left = alarmById.get(reader, { id: alarm.id })
    if (left) write.update('alarms', left, { at: write.at + HOUR })
    const key = `failed:${alarm.id}:${alarm.at}:${write.at}:${rule?.failures ?? 0}`
    const name = `Rung ${(alarm.rung ?? 0) + 1}`
    if (rule && task) {
      const about = { kind: 'task', id: task.id } as const
      fail(engine, write, { rule, about, task, key, name, because: [] }, reason)
    }
  })
}
