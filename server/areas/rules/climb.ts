import type { IsoDate, LocalTime, RunId } from '#core/brands.ts'
import { localTime, toInstant } from '#core/calendar/dates.ts'
import { daysLate, workingDayAfter } from '#core/calendar/calendar.ts'
import { evaluate, type Facts, type Reason, type Verdict } from '#core/rules/conditions.ts'
import { rungAt, RUNG_TIME, type Due } from '#core/rules/ladder.ts'
import { merge } from '#core/text/merge.ts'
import { plural, sayDate } from '#core/text/speak.ts'
import type { Rung } from '#contract/rules.ts'
import { ENGINE, type Writer } from '../../engine/journal.ts'
import { alarmById, alarmByKey, type AlarmRow } from '../../engine/queries.ts'
import type { Engine } from '../../engine/services.ts'
import { act, type Account, type LiveRun } from './act.ts'
import { rungDelays } from './ladder-alarms.ts'
import { factsOf, ruleById, runByKey, type RuleRecord, type TaskFacts } from './queries.ts'

const facts = (task: TaskFacts): Facts => ({
  priority: task.priority,
  state: task.state,
  client: task.client?.short ?? null,
  'client tier': task.client?.tier ?? null,
  project: task.project,
  estimate: task.estimate,
  assignees: task.assignees,
})

const OPS = {
  is: 'is',
  'is-not': 'is not',
  in: 'is one of',
  'not-in': 'is none of',
  'at-least': 'is at least',
  'at-most': 'is at most',
}
const sayReason = (r: Reason) =>
  `${r.field} ${OPS[r.op]} ${[r.value]
    .flat()
    .map((v) => v ?? 'none')
    .join(', ')}: it was ${r.seen ?? 'none'}`
const sayVerdict = (verdict: Verdict): string[] =>
  verdict.reasons.map((r) => `${r.held ? 'Held' : 'Did not hold'}: ${sayReason(r)}`)

/** A task that is late, on a ladder. */
export type LateTask = TaskFacts & { readonly due: IsoDate }

/** The rule, rung and late task behind an alarm. */
interface Standing {
  readonly rule: RuleRecord
  readonly task: LateTask
  readonly rung: Rung
  readonly index: number
  /** The due this standing is for, as keys of runs name it. */
  readonly due: string
}

const isLateTask = (task: TaskFacts | undefined): task is LateTask =>
  task !== undefined && task.due !== null && task.closedAt === null

/** Where an alarm's task stands; undefined when the ladder no longer stands there. */
function standing({ reader }: Engine, alarm: AlarmRow): Standing | undefined {
  const rule = alarm.ruleId === null ? undefined : ruleById.get(reader, { id: alarm.ruleId })
  const task = factsOf.get(reader, { id: alarm.itemId })
  if (!rule?.on || rule.pausedBecause !== null || !isLateTask(task)) return undefined
  const index = alarm.rung ?? 0
  const rung = rule.definition.rungs[index]
  return rung && { rule, task, rung, index, due: `${task.due}${task.dueTime ?? ''}` }
}

const placeOf = (task: LateTask): Due => ({ date: task.due, time: task.dueTime })
const lateBy = ({ firm }: Engine, task: LateTask): string =>
  plural(daysLate(firm.calendar(), task.due, firm.today()), 'working day')

/** Merge fields of a rule's texts, filled for one task. */
function texts(engine: Engine, task: LateTask): (text: string) => string {
  const values = {
    task: task.title,
    client: task.client?.short ?? 'the firm',
    project: task.project ?? '',
    due: { date: task.due },
    'days late': lateBy(engine, task),
  }
  return (text) => merge(text, values)
}

/** What every row of the run log says of a run. */
const common = ({ rule, task }: Standing, key: string, at: number) => ({
  key,
  ruleId: rule.id,
  version: rule.version,
  itemKind: 'task' as const,
  itemId: task.id,
  at,
})

/** Opens the row of a run that did something; what it did is filled in when it is known. */
function openRun(engine: Engine, write: Writer, at: Standing, key: string) {
  const runId: RunId = write.insert('runs', {
    ...common(at, key, write.at),
    outcome: 'done',
    summary: '',
    reasons: [],
  })
  const account: Account = { done: [], notes: [] }
  const running: LiveRun = {
    engine,
    write,
    rule: at.rule,
    task: at.task,
    text: texts(engine, at.task),
    runId,
    key,
    account,
  }
  return { runId, account, running }
}

/** Fires one rung for one task, once per due date. */
function fire(engine: Engine, at: Standing): void {
  const { rule, task, rung, index, due } = at
  const key = `ladder:${rule.id}:${task.id}:${due}:${rung.key}`
  if (runByKey.get(engine.reader, { key })) return
  const verdict = evaluate(rule.definition.conditions, facts(task))
  engine.journal.change({ kind: 'rule', id: rule.id }, (write) => {
    if (!verdict.holds) {
      const failing = verdict.failing ? [`First to fail: ${sayReason(verdict.failing)}`] : []
      write.insert('runs', {
        ...common(at, key, write.at),
        outcome: 'skipped',
        summary: `Rung ${index + 1} skipped`,
        reasons: [...failing, ...sayVerdict(verdict)],
      })
      return
    }
    const { runId, account, running } = openRun(engine, write, at, key)
    write.update('tasks', task.id, { rung: index + 1, rungOf: rule.id })
    for (const [i, action] of rung.actions.entries()) act(running, action, i)
    if (rung.actions.some((action) => action.kind === 'remind' && action.daily))
      planRepeat(engine, write, at)
    write.update('runs', runId, {
      summary: `Rung ${index + 1}: ${account.done.join(', ') || 'nothing could be done'}`,
      reasons: [
        `${lateBy(engine, task)} late, due ${sayDate(task.due)}`,
        ...sayVerdict(verdict),
        ...account.notes,
      ],
    })
    if (rule.failures > 0) write.update('rules', rule.id, { failures: 0 })
  })
}

/** Where a rung's time of day is. */
const timeOf = (rung: Rung): LocalTime =>
  'hours' in rung.delay ? RUNG_TIME : localTime(rung.delay.time)

/** A reminder that comes again: one alarm for the next working day at the rung's time. */
function planRepeat({ reader, firm }: Engine, write: Writer, at: Standing): void {
  const { rule, task, rung, index } = at
  const key = `repeat:${rule.id}:${task.id}`
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

function drop(engine: Engine, alarm: AlarmRow): void {
  engine.journal.change(ENGINE, (write) => write.remove('alarms', alarm.id))
}

/** The rung after one on a ladder, in the order they fire; undefined after the last. */
function rungAfter({ firm }: Engine, { rule, task, index }: Standing) {
  const order = rungDelays(rule.definition)
    .map((delay, i) => ({
      index: i,
      at: rungAt(delay, placeOf(task), firm.calendar(), firm.zone()),
    }))
    .sort((a, b) => a.at - b.at || a.index - b.index)
  return order[order.findIndex((each) => each.index === index) + 1]
}

/** An alarm of a ladder: fires its rung, then waits for the next one. */
export function climb(engine: Engine, alarm: AlarmRow): void {
  const found = standing(engine, alarm)
  if (!found) return drop(engine, alarm)
  fire(engine, found)
  const next = rungAfter(engine, found)
  // What the rung did may have moved the due or closed the task: then other alarms stand instead.
  if (!alarmById.get(engine.reader, { id: alarm.id })) return
  engine.journal.change(ENGINE, (write) => {
    if (next) write.update('alarms', alarm, { at: next.at, rung: next.index })
    else write.remove('alarms', alarm.id)
  })
}

/** An alarm of a daily reminder: reminds again while the task stands on the same rung. */
export function remindAgain(engine: Engine, alarm: AlarmRow): void {
  const found = standing(engine, alarm)
  if (!found || found.task.rung !== found.index + 1 || found.task.rungOf !== alarm.ruleId)
    return drop(engine, alarm)
  const { rule, task, rung, index, due } = found
  const key = `repeat:${rule.id}:${task.id}:${due}:${rung.key}:${engine.firm.today()}`
  engine.journal.change({ kind: 'rule', id: rule.id }, (write) => {
    if (!runByKey.get(engine.reader, { key })) {
      const { runId, account, running } = openRun(engine, write, found, key)
      for (const [i, action] of rung.actions.entries())
        if (action.kind === 'remind' && action.daily) act(running, action, i)
      write.update('runs', runId, {
        summary: `Rung ${index + 1} again: ${account.done.join(', ') || 'nothing could be done'}`,
        reasons: [`Still on rung ${index + 1}, due ${sayDate(task.due)}`, ...account.notes],
      })
    }
    planRepeat(engine, write, found)
  })
}

const FAILURES_BEFORE_PAUSE = 5
const HOUR = 3_600_000

/** Records that a rule failed; after five in a row it pauses itself and tells its owner. */
export function ruleFailed(engine: Engine, alarm: AlarmRow, error: unknown): void {
  const { reader, journal } = engine
  const rule = alarm.ruleId === null ? undefined : ruleById.get(reader, { id: alarm.ruleId })
  journal.change(ENGINE, (write) => {
    const standing = alarmById.get(reader, { id: alarm.id })
    if (standing) write.update('alarms', standing, { at: write.at + HOUR })
    if (rule) recordFailure(write, rule, alarm, reasonOf(error))
  })
}
const reasonOf = (error: unknown): string =>
  error instanceof Error ? error.message : String(error)

function recordFailure(write: Writer, rule: RuleRecord, alarm: AlarmRow, reason: string): void {
  const failures = rule.failures + 1
  write.insert('runs', {
    key: `failed:${alarm.id}:${alarm.at}:${write.at}:${rule.failures}`,
    ruleId: rule.id,
    version: rule.version,
    itemKind: alarm.itemKind,
    itemId: alarm.itemId,
    outcome: 'failed',
    summary: `Rung ${(alarm.rung ?? 0) + 1} failed`,
    reasons: [reason],
    at: write.at,
  })
  const pausing = failures >= FAILURES_BEFORE_PAUSE && rule.pausedBecause === null
  const pausedBecause = `Failed ${failures} times running: ${reason}`
  write.update('rules', rule.id, { failures, ...(pausing && { pausedBecause }) })
  if (pausing && rule.ownerId !== null)
    write.insert('notices', {
      personId: rule.ownerId,
      kind: 'rule',
      body: `Rule “${rule.name}” paused itself after ${failures} failures: ${reason}`,
      itemKind: 'rule',
      itemId: rule.id,
      at: write.at,
    })
}
