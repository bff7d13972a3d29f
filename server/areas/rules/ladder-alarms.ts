import type { RuleId, TaskId } from '#core/brands.ts'
import { localTime } from '#core/calendar/dates.ts'
import { evaluateLadder, type Due, type RungDelay } from '#core/rules/ladder.ts'
import { rungsOf, type RuleDefinition } from '#contract/rules.ts'
import type { Reader } from '../../database/query.ts'
import type { Clock } from '../../engine/clock.ts'
import type { Firm } from '../../engine/firm.ts'
import type { Deriver, Entry, Writer } from '../../engine/journal.ts'
import { alarmsOfItem, alarmsOfRule } from '../../engine/queries.ts'
import { activeRules, dueOf, openDues } from './queries.ts'

interface LadderRule {
  readonly id: RuleId
  readonly delays: readonly RungDelay[]
}

/** The delays of a rule's rungs as the core counts them. */
export const rungDelays = (rule: RuleDefinition): RungDelay[] =>
  rungsOf(rule).map(({ delay }) =>
    'hours' in delay ? delay : { ...delay, time: localTime(delay.time) },
  )

/** Fields of a task that place its alarms. */
const PLACING = ['due', 'dueTime', 'closedAt', 'archivedAt']
/** Fields of a rule that do. */
const RULING = ['on', 'definition', 'pausedBecause']

const touches = ({ action, after }: Entry, fields: readonly string[]): boolean =>
  action !== 'changed' || fields.some((field) => after !== null && field in after)

/** What the alarms of ladders are placed by. */
interface Placing {
  readonly reader: Reader
  readonly clock: Clock
  readonly firm: Firm
}

/** The alarms of a ladder over one task: at most one stands, for the next rung. */
function planLadder(
  { clock, firm }: Placing,
  write: Writer,
  rule: LadderRule,
  task: { id: TaskId; due: Due },
): void {
  const now = clock.now()
  const { reached, next } = evaluateLadder(rule.delays, task.due, firm.calendar(), firm.zone(), now)
  // Of the rungs that were already behind when the ladder was put up, only the highest still speaks.
  const stand = reached.at(-1) ?? next
  if (!stand) return
  write.insert('alarms', {
    at: Math.max(stand.at, now),
    kind: 'ladder',
    key: `ladder:${rule.id}:${task.id}`,
    ruleId: rule.id,
    itemKind: 'task',
    itemId: task.id,
    rung: stand.rung,
  })
}

/** Takes a task off its ladders and puts it on those of the active rules. */
function placeTask(placing: Placing, write: Writer, entry: Entry, rules: () => LadderRule[]): void {
  const { reader } = placing
  const id = entry.entityId
  if (entry.action !== 'made')
    for (const alarm of alarmsOfItem.all(reader, { kind: 'task', id }))
      write.remove('alarms', alarm.id)
  const task = dueOf.get(reader, { id })
  if (!task?.due || task.closedAt !== null || task.archivedAt !== null) return
  const due = { date: task.due, time: task.dueTime }
  for (const rule of rules()) planLadder(placing, write, rule, { id, due })
}

/** Puts a rule up anew over everything open. */
function placeRule(placing: Placing, write: Writer, id: RuleId, rules: () => LadderRule[]): void {
  for (const alarm of alarmsOfRule.all(placing.reader, { id })) write.remove('alarms', alarm.id)
  const rule = rules().find((r) => r.id === id)
  if (!rule) return
  for (const { id: task, due, dueTime } of openDues.all(placing.reader))
    if (due) planLadder(placing, write, rule, { id: task, due: { date: due, time: dueTime } })
}

/** Keeps the alarms of ladders in step with tasks and rules, in the transaction that changes either. */
export function ladderAlarms(reader: Reader, clock: Clock, firm: Firm): Deriver {
  const placing: Placing = { reader, clock, firm }
  return (write, entries) => {
    let known: LadderRule[] | undefined
    const active = () =>
      (known ??= activeRules.all(reader).map(({ id, definition }) => ({
        id,
        delays: rungDelays(definition),
      })))
    const edited = new Set(
      entries.filter((e) => e.entity === 'rules' && touches(e, RULING)).map((e) => e.entityId),
    )
    // A rule that changed is put up over everything open, what this change made included.
    const others = () => active().filter((rule) => !edited.has(rule.id))
    for (const entry of entries)
      if (entry.entity === 'tasks' && touches(entry, PLACING))
        placeTask(placing, write, entry, others)
    for (const id of edited) placeRule(placing, write, id, active)
  }
}
