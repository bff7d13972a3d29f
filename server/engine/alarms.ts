import type { IsoDate, LocalTime } from '#core/brands.ts'
import { evaluateLadder, type RungDelay } from '#core/rules/ladder.ts'
import type { RuleDefinition } from '#contract/rules.ts'
import type { Database } from '../database/open.ts'
import type { Clock } from './clock.ts'
import type { Firm } from './firm.ts'
import type { Entry, Follower, Writer } from './journal.ts'

interface LadderRule {
  readonly id: number
  readonly delays: readonly RungDelay[]
}
interface DueRow {
  id: number
  due: string
  dueTime: string | null
}

/** The delays of a rule's rungs as the core counts them. */
export const rungDelays = (rule: RuleDefinition): RungDelay[] =>
  rule.rungs.map(({ delay }) =>
    'hours' in delay ? delay : { ...delay, time: delay.time as LocalTime },
  )

/** Fields of a task that place its alarms. */
const PLACING = ['due', 'dueTime', 'closedAt', 'archivedAt'] as const
/** Fields of a rule that do. */
const RULING = ['on', 'definition', 'pausedBecause'] as const

/** The alarms of a ladder over one task: at most one stands, for the next rung. */
function planLadder(write: Writer, firm: Firm, rule: LadderRule, task: DueRow, now: number): void {
  const due = { date: task.due as IsoDate, time: task.dueTime as LocalTime | null }
  const { reached, next } = evaluateLadder(rule.delays, due, firm.calendar(), firm.zone(), now)
  // Of the rungs that were already behind when the ladder was put up, only the highest still
  // speaks.
  const stand = reached.at(-1) ?? next
  if (stand)
    write.insert('alarms', {
      at: Math.max(stand.at, now),
      kind: 'ladder',
      key: `ladder:${rule.id}:${task.id}`,
      ruleId: rule.id,
      taskId: task.id,
      rung: stand.rung,
    })
}

/**
 * Keeps the alarms of ladders in step with tasks and rules, in the transaction that changes either.
 */
export function ladderAlarms(db: Database, clock: Clock, firm: Firm): Follower {
  const drop = (write: Writer, column: 'taskId' | 'ruleId', id: number) => {
    for (const { id: alarm } of db.prepare(`select id from alarms where ${column} = ?`).all(id) as {
      id: number
    }[])
      write.remove('alarms', alarm)
  }
  return (write, entries) => {
    let rules: LadderRule[] | undefined
    const active = () =>
      (rules ??= (
        db
          .prepare('select id, definition from rules where "on" = 1 and pausedBecause is null')
          .all() as { id: number; definition: string }[]
      ).map((rule) => ({
        id: rule.id,
        delays: rungDelays(JSON.parse(rule.definition) as RuleDefinition),
      })))
    const placed = (entry: Entry) =>
      entry.action !== 'changed' || PLACING.some((field) => entry.after && field in entry.after)
    const edited = new Set(
      entries
        .filter(
          (e) =>
            e.entity === 'rules' &&
            (e.action !== 'changed' || RULING.some((field) => e.after && field in e.after)),
        )
        .map((e) => e.entityId),
    )
    for (const entry of entries) {
      if (entry.entity !== 'tasks' || !placed(entry)) continue
      if (entry.action !== 'made') drop(write, 'taskId', entry.entityId)
      const task = db
        .prepare(
          'select id, due, dueTime, coalesce(closedAt, archivedAt) as closedAt from tasks where id = ?',
        )
        .get(entry.entityId) as (DueRow & { closedAt: number | null }) | undefined
      if (!task?.due || task.closedAt !== null) continue
      for (const rule of active())
        if (!edited.has(rule.id)) planLadder(write, firm, rule, task, clock.now())
    }
    // A rule that changed is put up anew over everything open, what this change made included.
    for (const id of edited) {
      drop(write, 'ruleId', id)
      const rule = active().find((r) => r.id === id)
      if (rule)
        for (const task of db
          .prepare(
            'select id, due, dueTime from tasks where closedAt is null and archivedAt is null and due is not null',
          )
          .all() as DueRow[])
          planLadder(write, firm, rule, task, clock.now())
    }
  }
}
