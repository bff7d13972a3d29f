import type { LocalTime } from '#core/brands.ts'
import { isWorkingDay, workingDayAfter } from '#core/calendar/calendar.ts'
import { addDays, localTime, toInstant } from '#core/calendar/dates.ts'
import { explain } from '#core/conditions/compile.ts'
import { sayMoment } from '#core/fields/say.ts'
import type { StepOf } from '#contract/actions/action.ts'
import type { keepReminding } from '#contract/actions/keep-reminding.ts'
import type { Action } from '#contract/rules.ts'
import type { AlarmKind } from '../../engine/handlers.ts'
import { ENGINE } from '../../engine/journal.ts'
import type { AlarmRow } from '../../engine/queries.ts'
import { hasRun } from '../../engine/runs.ts'
import type { Engine } from '../../engine/services.ts'
import { taskFields } from '../fields/queries.ts'
import type { LiveRun } from './actions/does.ts'
import { waitByKey } from './queries.ts'
import { carryOut, leave, ruleNow, type Planned } from './run.ts'
import { sayVerdict } from './say.ts'
import { subjectRests } from './subject.ts'
import { clearWait, endedByRule, goingOn, ledBy, waitFailed } from './wait.ts'

/** Reminders of rules that come again every day, until what they wait for holds. */

type Reminding = StepOf<typeof keepReminding>

/** The next day's turn: today's only the first time, where it is still to come. */
function nextTurn({ firm, clock }: Engine, { time, unit }: Reminding, first: boolean): number {
  const [today, zone, cal] = [firm.today(), firm.zone(), firm.calendar()]
  const at: LocalTime = localTime(time)
  const now = toInstant(today, at, zone)
  const counts = unit === 'calendar' || isWorkingDay(cal, today)
  if (first && counts && now > clock.now()) return now
  const next = unit === 'calendar' ? addDays(today, 1) : workingDayAfter(cal, today, 1)
  return toInstant(next, at, zone)
}

/** Puts up the alarm of a reminder that comes again; answers when it comes first, in words. */
export function planAgain(
  { engine, write, about, task, key: run, planned }: LiveRun,
  action: Reminding,
  nth: number,
): string {
  const { rule, name, cause } = planned
  const at = nextTurn(engine, action, true)
  const key = `again:${run}:${nth}`
  write.insert('waits', {
    ...{ key, run, leg: 0, after: -1, deeds: [action], name, at: write.at },
    ...{ ruleId: rule.id, version: rule.version, conditions: action.until },
    ...{ was: task.was ?? {}, changes: write.change === null ? [] : [write.change] },
    ...ledBy(cause),
  })
  write.insert('alarms', { at, kind: 'again', key, itemKind: about.kind, itemId: about.id })
  const { firm } = engine
  return sayMoment(at, { today: firm.today(), zone: firm.zone(), clock: firm.dates().clock })
}

/** Why a reminder comes no more, or null; nothing to be said where it is closed. */
function over(engine: Engine, planned: Planned, action: Reminding, since: number) {
  if (planned.task.closedAt !== null) return { said: null }
  const off = endedByRule(engine, planned, since)
  if (off) return { said: off }
  if (action.until.of.length === 0) return null
  const verdict = explain(action.until, taskFields(engine.reader)).verdict(
    planned.task,
    ruleNow(engine),
  )
  return verdict.holds ? { said: sayVerdict(engine, verdict) } : null
}

/** Reminds again, and puts its alarm off to the next day; nothing is said to what stands still. */
function again(engine: Engine, alarm: AlarmRow): void {
  const { reader, journal, firm } = engine
  const wait = waitByKey.get(reader, { key: alarm.key })
  const found = wait && goingOn(engine, alarm, wait)
  const action = wait?.deeds[0]
  if (!wait || !found || action?.kind !== 'keep-reminding')
    return void journal.change(ENGINE, (write) => clearWait(write, alarm, wait))
  const key = `${wait.key}:${firm.today()}`
  const planned: Planned = { ...found, key, name: wait.name ? `${wait.name}, again` : 'Again' }
  const end = over(engine, planned, action, wait.at)
  const rests = subjectRests(engine, planned.about)
  journal.change({ kind: 'rule', id: wait.ruleId }, (write) => {
    if (end) {
      clearWait(write, alarm, wait)
      if (end.said) leave(engine, write, { ...planned, name: 'Reminds no more' }, end.said)
      return
    }
    if (!rests && !hasRun(reader, key)) carryOut(engine, write, planned, [once(action)])
    write.update('alarms', alarm, { at: nextTurn(engine, action, false) })
  })
}
const once = ({ who, text }: Reminding): Action => ({ kind: 'remind', who, daily: false, text })

export const againKind: AlarmKind = { kind: 'again', run: again, failed: waitFailed }
