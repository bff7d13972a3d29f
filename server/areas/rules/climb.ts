import type { IsoDate, LocalTime } from '#core/brands.ts'
import { toInstant, toLocal } from '#core/calendar/dates.ts'
import { daysLate, workingDayAfter } from '#core/calendar/calendar.ts'
import { evaluate, type Facts, type Reason, type Verdict } from '#core/rules/conditions.ts'
import { rungAt, RUNG_TIME } from '#core/rules/ladder.ts'
import { merge } from '#core/text/merge.ts'
import { plural, sayDate } from '#core/text/speak.ts'
import type { Action, Rung, RuleDefinition } from '#contract/rules.ts'
import { rungDelays } from '../../engine/alarms.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { personName, resolveWho } from '../people/queries.ts'
import { insertTask, patchTask, setAssignees } from '../tasks/write.ts'

export interface LadderAlarm {
  id: number
  at: number
  kind: string
  ruleId: number
  taskId: number
  rung: number
}

interface RuleRow {
  id: number
  name: string
  on: number
  ownerId: number | null
  definition: string
  pausedBecause: string | null
  failures: number
  version: number
}

interface TaskFacts {
  id: number
  title: string
  state: string
  priority: string
  due: string
  dueTime: string | null
  estimate: number | null
  rung: number
  rungOf: number | null
  closedAt: number | null
  projectId: number | null
  project: string | null
  client: string | null
  clientId: number | null
  tier: string | null
  assignees: number
}

const ruleRow = (engine: Engine, id: number) =>
  engine.db.prepare('select * from rules where id = ?').get(id) as RuleRow | undefined

const taskFacts = (engine: Engine, id: number) =>
  engine.db
    .prepare(
      `select t.id, t.title, t.state, t.priority, t.due, t.dueTime, t.estimate, t.rung, t.rungOf, t.closedAt, t.projectId, p.name as project, c.short as client, c.id as clientId, c.tier,
       (select count(*) from taskAssignees a where a.taskId = t.id) as assignees
       from tasks t left join projects p on p.id = t.projectId left join clients c on c.id = coalesce(t.clientId, p.clientId) where t.id = ?`,
    )
    .get(id) as TaskFacts | undefined

const facts = (task: TaskFacts): Facts => ({
  priority: task.priority,
  state: task.state,
  client: task.client,
  'client tier': task.tier,
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

/** What one run did, as the run log tells it. */
interface Account {
  done: string[]
  notes: string[]
}

interface Told {
  readonly people: readonly number[]
  readonly names: string
}

function whoOf(
  engine: Engine,
  action: Extract<Action, { who: unknown }>,
  taskId: number,
  rule: RuleRow,
  account: Account,
): Told {
  const { people, left } = resolveWho(engine, action.who, taskId, rule.ownerId)
  for (const name of left) account.notes.push(`${name} has left, so nothing went there`)
  return { people, names: people.map((id) => personName(engine, id)).join(' and ') }
}

/**
 * Tells people in the application and, if asked, by mail; the key keeps a mail single whatever
 * restarts.
 */
function tell(
  engine: Engine,
  write: Writer,
  to: Told,
  text: string,
  kind: string,
  task: TaskFacts,
  runId: number,
  mail: boolean,
  key: string,
): void {
  for (const personId of to.people) {
    write.insert('notices', { personId, kind, body: text, taskId: task.id, runId, at: write.at })
    if (!mail) continue
    const { email } = engine.db.prepare('select email from people where id = ?').get(personId) as {
      email: string
    }
    write.insert('outbox', {
      key: `${key}:${personId}`,
      recipient: email,
      subject: text.length > 90 ? `${text.slice(0, 88)}…` : text,
      nextAt: write.at,
      createdAt: write.at,
      body: `${text}\n\nTask #${task.id}: ${task.title}\n${[task.client, task.project].filter(Boolean).join(' · ')}\nDue ${sayDate(task.due)}${task.dueTime ? `, ${task.dueTime}` : ''}\n`,
    })
  }
}

/** Whether a task is a follow-up that a rule made. */
const madeByRule = (engine: Engine, taskId: number): boolean =>
  engine.db
    .prepare(
      "select 1 from journal where taskId = ? and entity = 'tasks' and action = 'made' and actorKind = 'rule'",
    )
    .get(taskId) !== undefined

function act(
  engine: Engine,
  write: Writer,
  rule: RuleRow,
  action: Action,
  task: TaskFacts,
  text: (t: string) => string,
  runId: number,
  key: string,
  account: Account,
): void {
  if (action.kind === 'set-priority') {
    patchTask(engine, write, task.id, { priority: action.to })
    account.done.push(`Set priority ${action.to}`)
    return
  }
  const to = whoOf(engine, action, task.id, rule, account)
  if (to.people.length === 0 && action.kind !== 'make-task') {
    account.notes.push(
      `${{ remind: 'Reminding', tell: 'Telling', assign: 'Assigning' }[action.kind]} found nobody (${action.who.is === 'lead' ? 'the project has no lead' : action.who.is === 'assignees' ? 'the task has no owner' : action.who.is})`,
    )
    return
  }
  switch (action.kind) {
    case 'remind':
      tell(engine, write, to, text(action.text), 'reminder', task, runId, true, key)
      account.done.push(`Reminded ${to.names}`)
      break
    case 'tell':
      tell(engine, write, to, text(action.text), 'escalation', task, runId, action.mail, key)
      account.done.push(`Told ${to.names}`)
      break
    case 'assign':
      setAssignees(engine, write, task.id, to.people)
      account.done.push(`Assigned ${to.names}`)
      break
    case 'make-task': {
      // A follow-up that is late itself is reminded of and escalated, but gets no follow-up of its
      // own.
      if (madeByRule(engine, task.id)) {
        account.notes.push('No further task: this one was made by a rule already')
        break
      }
      const id = insertTask(engine, write, {
        title: text(action.title),
        assignees: [...to.people],
        projectId: task.projectId,
        clientId: task.clientId,
        due: workingDayAfter(engine.firm.calendar(), engine.firm.today(), 1),
        creatorId: rule.ownerId,
      })
      account.done.push(
        `Made task #${id} “${text(action.title)}”${to.names ? ` for ${to.names}` : ''}`,
      )
    }
  }
}

function texts(engine: Engine, task: TaskFacts): (t: string) => string {
  const { firm } = engine
  const values = {
    task: task.title,
    client: task.client ?? 'the firm',
    project: task.project ?? '',
    due: { date: task.due as IsoDate },
    'days late': plural(
      daysLate(firm.calendar(), task.due as IsoDate, firm.today()),
      'working day',
    ),
  }
  return (t) => merge(t, values)
}

const sayVerdict = (verdict: Verdict): string[] =>
  verdict.reasons.map((r) => `${r.held ? 'Held' : 'Did not hold'}: ${sayReason(r)}`)

/** Fires one rung for one task, once per due date, and answers whether the conditions held. */
function fire(
  engine: Engine,
  rule: RuleRow,
  definition: RuleDefinition,
  rung: Rung,
  index: number,
  task: TaskFacts,
  key: string,
): void {
  const { db, journal } = engine
  if (db.prepare('select 1 from runs where key = ?').get(key)) return
  const verdict = evaluate(definition.conditions, facts(task))
  const text = texts(engine, task)
  journal.change({ kind: 'rule', id: rule.id }, (write) => {
    const common = {
      key,
      ruleId: rule.id,
      version: rule.version,
      taskId: task.id,
      projectId: task.projectId,
      at: write.at,
    }
    if (!verdict.holds) {
      write.insert('runs', {
        ...common,
        outcome: 'skipped',
        summary: `Rung ${index + 1} skipped`,
        reasons: JSON.stringify([
          `First to fail: ${sayReason(verdict.failing!)}`,
          ...sayVerdict(verdict),
        ]),
      })
      return
    }
    const runId = write.insert('runs', { ...common, outcome: 'done', summary: '', reasons: '[]' })
    const account: Account = { done: [], notes: [] }
    write.update('tasks', task.id, { rung: index + 1, rungOf: rule.id })
    rung.actions.forEach((action, i) =>
      act(engine, write, rule, action, task, text, runId, `${key}:${i}`, account),
    )
    if (rung.actions.some((a) => a.kind === 'remind' && a.daily))
      planRepeat(engine, write, rule.id, task, index, rung)
    const days = daysLate(engine.firm.calendar(), task.due as IsoDate, engine.firm.today())
    write.update('runs', runId, {
      summary: `Rung ${index + 1}: ${account.done.join(', ') || 'nothing could be done'}`,
      reasons: JSON.stringify([
        `${plural(days, 'working day')} late, due ${sayDate(task.due)}`,
        ...sayVerdict(verdict),
        ...account.notes,
      ]),
    })
    if (write.actor.kind === 'rule' && rule.failures > 0)
      write.update('rules', rule.id, { failures: 0 })
  })
}

/** Where a rung's time of day is. */
const timeOf = (rung: Rung): LocalTime =>
  'hours' in rung.delay ? RUNG_TIME : (rung.delay.time as LocalTime)

/** A reminder that comes again: one alarm for the next working day at the rung's time. */
function planRepeat(
  engine: Engine,
  write: Writer,
  ruleId: number,
  task: TaskFacts,
  index: number,
  rung: Rung,
): void {
  const key = `repeat:${ruleId}:${task.id}`
  const old = engine.db.prepare('select id from alarms where key = ?').get(key) as
    { id: number } | undefined
  if (old) write.remove('alarms', old.id)
  const day = workingDayAfter(
    engine.firm.calendar(),
    toLocal(engine.clock.now(), engine.firm.zone()).date,
    1,
  )
  write.insert('alarms', {
    at: toInstant(day, timeOf(rung), engine.firm.zone()),
    kind: 'repeat',
    key,
    ruleId,
    taskId: task.id,
    rung: index,
  })
}

function drop(engine: Engine, alarm: LadderAlarm): void {
  engine.journal.change({ kind: 'engine', id: null }, (write) => write.remove('alarms', alarm.id))
}

/**
 * The rule, rung and late task behind an alarm; undefined when the ladder no longer stands there.
 */
function standing(engine: Engine, alarm: LadderAlarm) {
  const rule = ruleRow(engine, alarm.ruleId)
  const task = taskFacts(engine, alarm.taskId)
  if (
    !rule ||
    !rule.on ||
    rule.pausedBecause !== null ||
    !task ||
    task.closedAt !== null ||
    !task.due
  )
    return undefined
  const definition = JSON.parse(rule.definition) as RuleDefinition
  const rung = definition.rungs[alarm.rung]
  return rung
    ? { rule, task, definition, rung, due: `${task.due}${task.dueTime ?? ''}` }
    : undefined
}

/** An alarm of a ladder: fires its rung, then waits for the next one. */
export function climb(engine: Engine, alarm: LadderAlarm): void {
  const found = standing(engine, alarm)
  if (!found) return drop(engine, alarm)
  const { rule, task, definition, rung, due } = found
  fire(
    engine,
    rule,
    definition,
    rung,
    alarm.rung,
    task,
    `ladder:${rule.id}:${task.id}:${due}:${rung.key}`,
  )
  const place = { date: task.due as IsoDate, time: task.dueTime as LocalTime | null }
  const here = [
    rungAt(rungDelays(definition)[alarm.rung]!, place, engine.firm.calendar(), engine.firm.zone()),
    alarm.rung,
  ] as const
  const next = rungDelays(definition)
    .map((delay, index) => ({
      index,
      at: rungAt(delay, place, engine.firm.calendar(), engine.firm.zone()),
    }))
    .filter((r) => r.at > here[0] || (r.at === here[0] && r.index > here[1]))
    .sort((a, b) => a.at - b.at || a.index - b.index)[0]
  // What the rung did may have moved the due or closed the task: then other alarms stand in this
  // one's place.
  if (!engine.db.prepare('select 1 from alarms where id = ?').get(alarm.id)) return
  engine.journal.change({ kind: 'engine', id: null }, (write) => {
    if (next) write.update('alarms', alarm.id, { at: next.at, rung: next.index })
    else write.remove('alarms', alarm.id)
  })
}

/** An alarm of a daily reminder: reminds again while the task stands on the same rung. */
export function remindAgain(engine: Engine, alarm: LadderAlarm): void {
  const found = standing(engine, alarm)
  if (!found || found.task.rung !== alarm.rung + 1 || found.task.rungOf !== alarm.ruleId)
    return drop(engine, alarm)
  const { rule, task, rung, due } = found
  const today = engine.firm.today()
  const key = `repeat:${rule.id}:${task.id}:${due}:${rung.key}:${today}`
  const text = texts(engine, task)
  engine.journal.change({ kind: 'rule', id: rule.id }, (write) => {
    if (!engine.db.prepare('select 1 from runs where key = ?').get(key)) {
      const runId = write.insert('runs', {
        key,
        ruleId: rule.id,
        version: rule.version,
        taskId: task.id,
        projectId: task.projectId,
        outcome: 'done',
        summary: '',
        reasons: '[]',
        at: write.at,
      })
      const account: Account = { done: [], notes: [] }
      rung.actions.forEach((action, i) => {
        if (action.kind === 'remind' && action.daily)
          act(engine, write, rule, action, task, text, runId, `${key}:${i}`, account)
      })
      write.update('runs', runId, {
        summary: `Rung ${alarm.rung + 1} again: ${account.done.join(', ') || 'nothing could be done'}`,
        reasons: JSON.stringify([
          `Still on rung ${alarm.rung + 1}, due ${sayDate(task.due)}`,
          ...account.notes,
        ]),
      })
    }
    planRepeat(engine, write, rule.id, task, alarm.rung, rung)
  })
}

const FAILURES_BEFORE_PAUSE = 5

/** Records that a rule failed; after five in a row it pauses itself and tells its owner. */
export function ruleFailed(engine: Engine, alarm: LadderAlarm, error: unknown): void {
  const rule = ruleRow(engine, alarm.ruleId)
  engine.journal.change({ kind: 'engine', id: null }, (write) => {
    if (engine.db.prepare('select 1 from alarms where id = ?').get(alarm.id))
      write.update('alarms', alarm.id, { at: write.at + 3_600_000 })
    if (!rule) return
    const reason = error instanceof Error ? error.message : String(error)
    write.insert('runs', {
      key: `failed:${alarm.id}:${alarm.at}:${write.at}:${rule.failures}`,
      ruleId: rule.id,
      version: rule.version,
      taskId: alarm.taskId,
      outcome: 'failed',
      summary: `Rung ${alarm.rung + 1} failed`,
      reasons: JSON.stringify([reason]),
      at: write.at,
    })
    const failures = rule.failures + 1
    const pausing = failures >= FAILURES_BEFORE_PAUSE && rule.pausedBecause === null
    write.update('rules', rule.id, {
      failures,
      ...(pausing && { pausedBecause: `Failed ${failures} times running: ${reason}` }),
    })
    if (pausing && rule.ownerId !== null)
      write.insert('notices', {
        personId: rule.ownerId,
        kind: 'rule',
        body: `Rule “${rule.name}” paused itself after ${failures} failures: ${reason}`,
        at: write.at,
      })
  })
}
