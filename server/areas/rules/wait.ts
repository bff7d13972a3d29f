import { workingDayAfter } from '#core/calendar/calendar.ts'
import { addDays, toInstant } from '#core/calendar/dates.ts'
import { sayMoment } from '#core/fields/say.ts'
import { RUNG_TIME } from '#core/rules/ladder.ts'
import type { wait as kind } from '#contract/actions/wait.ts'
import type { StepOf } from '#contract/actions/action.ts'
import type { Deed } from '#contract/rules.ts'
import type { Said } from '../../database/tables/clockwork.ts'
import type { AlarmKind } from '../../engine/handlers.ts'
import { ENGINE, type Writer } from '../../engine/journal.ts'
import { alarmById, type AlarmRow } from '../../engine/queries.ts'
import { hasRun } from '../../engine/runs.ts'
import type { Engine } from '../../engine/services.ts'
import type { LiveRun } from './actions/does.ts'
import { ruleById, ruleChanges, undoing, waitByKey, type RuleRecord } from './queries.ts'
import { carryOut, fail, judge, leave, type Planned } from './run.ts'
import { sayVerdict } from './say.ts'
import { factsAbout, inScope, subjectRests } from './subject.ts'

/** Runs that wait, and how they go on: each leg is a run of its own in the log. */

const HOUR = 3_600_000
/** When a wait is over: so many hours on, or at the usual time of the n-th day after. */
function until({ firm, clock }: Engine, { amount, unit }: StepOf<typeof kind>): number {
  if (unit === 'hours') return clock.now() + amount * HOUR
  const today = firm.today()
  const day =
    unit === 'working' ? workingDayAfter(firm.calendar(), today, amount) : addDays(today, amount)
  return toInstant(day, RUNG_TIME, firm.zone())
}

/** How long it waits, as the run log says it. */
export function sayWait(engine: Engine, action: StepOf<typeof kind>): string {
  const { firm } = engine
  const said = { today: firm.today(), zone: firm.zone(), clock: firm.dates().clock }
  return `Waits until ${sayMoment(until(engine, action), said)}`
}
/** What led to a run, as it is kept while it waits. */
export const ledBy = (cause: Planned['cause']) => ({
  causeId: cause?.journalId ?? null,
  depth: cause?.depth ?? 0,
})
/** Puts down how far a run has come, with an alarm for when it goes on. */
export function waitFor(
  { engine, write, account }: LiveRun,
  planned: Planned,
  { deeds, nth }: { readonly deeds: readonly Deed[]; readonly nth: number },
  action: StepOf<typeof kind>,
): void {
  const { rule, about, task, cause } = planned
  const { key: own, name: called } = planned
  const {
    run,
    name,
    nth: leg,
    changes,
  } = planned.leg ?? { run: own, name: called, nth: 0, changes: [] }
  const at = until(engine, action)
  const key = `wait:${run}~${leg + 1}`
  write.insert('waits', {
    ...{ key, run, leg: leg + 1, after: nth, deeds, name, at: write.at },
    ...{ ruleId: rule.id, version: rule.version, conditions: rule.definition.conditions },
    was: task.was ?? {},
    changes: [...changes, ...(write.change === null ? [] : [write.change])],
    ...ledBy(cause),
  })
  write.insert('alarms', { at, kind: 'wait', key, itemKind: about.kind, itemId: about.id })
  account.did.push(sayWait(engine, action))
}

export type Wait = NonNullable<ReturnType<typeof waitByKey.get>>
/** A run that goes on, as it was when it began; undefined where what it is about is gone. */
export function goingOn(engine: Engine, alarm: AlarmRow, wait: Wait): Planned | undefined {
  const rule = ruleById.get(engine.reader, { id: wait.ruleId })
  const { itemKind: about } = alarm
  if (!rule || (about !== 'task' && about !== 'project' && about !== 'client')) return undefined
  const subject = { kind: about, id: alarm.itemId }
  const task = factsAbout(engine, subject, wait.was)
  if (!task) return undefined
  const { conditions, version } = wait
  return {
    rule: { ...rule, version, definition: { ...rule.definition, conditions } },
    ...{ about: subject, task, because: [] },
    key: `${wait.run}~${wait.leg}`,
    name: wait.name ? `${wait.name}, after waiting` : 'After waiting',
    leg: {
      run: wait.run,
      name: wait.name,
      nth: wait.leg,
      after: wait.after,
      changes: wait.changes,
    },
    ...(wait.causeId !== null && { cause: { journalId: wait.causeId, depth: wait.depth } }),
  }
}

/** Takes a run that waited, and its alarm, off. */
export function clearWait(write: Writer, alarm: AlarmRow, wait: Wait | undefined): void {
  write.remove('alarms', alarm.id)
  if (wait) write.remove('waits', wait.id)
}

/** Whether a rule was switched off at any time since. */
const offSince = ({ reader }: Engine, rule: RuleRecord, since: number): boolean =>
  !rule.on ||
  ruleChanges
    .all(reader, { rule: rule.id, since })
    .some(({ before, after }) => before?.['on'] === 1 && after?.['on'] === 0)

/** Why its rule lets a run that waited go on no more, or null. */
export function endedByRule(engine: Engine, planned: Planned, since: number): string[] | null {
  const { rule, task, leg } = planned
  const { reader } = engine
  if (offSince(engine, rule, since)) return ['The rule was switched off meanwhile']
  if (rule.pausedBecause !== null) return ['The rule has paused itself']
  if (leg?.changes.some((change) => undoing.get(reader, { change })))
    return ['What it had done before was taken back']
  return inScope(reader, rule, task) ? null : ['The rule does not act here any more']
}
/** Why a run that waited does not go on, or null. */
function ended(engine: Engine, planned: Planned, since: number): Said[] | null {
  const { rule, about, task } = planned
  const off = endedByRule(engine, planned, since)
  if (off) return off
  if (subjectRests(engine, about)) return [`The ${about.kind} stands still`]
  const verdict = judge(engine, rule, task)
  return verdict.holds ? null : sayVerdict(engine, verdict)
}

function goOn(engine: Engine, alarm: AlarmRow): void {
  const { reader, journal } = engine
  const wait = waitByKey.get(reader, { key: alarm.key })
  const planned = wait && goingOn(engine, alarm, wait)
  if (!wait || !planned || hasRun(reader, planned.key))
    return void journal.change(ENGINE, (write) => clearWait(write, alarm, wait))
  const why = ended(engine, planned, wait.at)
  journal.change(
    { kind: 'rule', id: wait.ruleId },
    (write) => {
      clearWait(write, alarm, wait)
      if (why) leave(engine, write, { ...planned, name: 'Ended while it waited' }, why)
      else carryOut(engine, write, planned, wait.deeds)
    },
    planned.cause,
  )
}

/** Says that it failed, and tries again in an hour. */
export function waitFailed(engine: Engine, alarm: AlarmRow, reason: string): void {
  const { reader, journal } = engine
  const wait = waitByKey.get(reader, { key: alarm.key })
  const planned = wait && goingOn(engine, alarm, wait)
  journal.change(ENGINE, (write) => {
    const left = alarmById.get(reader, { id: alarm.id })
    if (left) write.update('alarms', left, { at: write.at + HOUR })
    if (planned)
      fail(engine, write, { ...planned, key: `failed:${planned.key}:${write.at}` }, reason)
  })
}

export const waitKind: AlarmKind = { kind: 'wait', run: goOn, failed: waitFailed }
