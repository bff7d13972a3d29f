import type { RuleId, TaskId } from '#core/brands.ts'
import { localTime } from '#core/calendar/dates.ts'
import { evaluateLadder, type Due, type RungDelay } from '#core/rules/ladder.ts'
import { rungsOf, type RuleDefinition } from '#contract/rules.ts'
import type { Reader } from '../../database/query.ts'
import type { Clock } from '../../engine/clock.ts'
import type { Firm } from '../../engine/firm.ts'
import type { Stored } from '../../database/tables/engine.ts'
import type { Deriver, Entry, Writer } from '../../engine/journal.ts'
import { alarmByKey, alarmsOfItem, type AlarmRow } from '../../engine/queries.ts'
import { justMade } from '../tasks/derived.ts'
import { rests } from '../tasks/rest.ts'
import { moveDated } from './dated.ts'
import { rulesInside } from './at-work.ts'
import { dueOf, type RuleRecord } from './queries.ts'

export interface LadderRule {
  readonly id: RuleId
  readonly delays: readonly RungDelay[]
  /** Put up over what there is, it acts on what is reached from then on. */
  readonly since: number
}

/** The delays of a rule's rungs as the core counts them. */
export const rungDelays = (rule: RuleDefinition): RungDelay[] =>
  rungsOf(rule).map(({ delay }) =>
    'hours' in delay ? delay : { ...delay, time: localTime(delay.time) },
  )

/** Fields of a task that place its alarms: its due, and what ends them. */
const DUE = ['due', 'dueTime']
const ENDING = ['closedAt', 'archivedAt']

const touches = ({ action, after }: Entry, fields: readonly string[]): boolean =>
  action !== 'changed' || fields.some((field) => after !== null && field in after)

/** What places the alarms of a rule, as an entry of it stores it. */
function placedBy(row: Stored | null): string {
  const definition: RuleDefinition = JSON.parse(String(row?.['definition']))
  const { trigger, conditions } = definition
  const delays = rungsOf(definition).map(({ delay }) => delay)
  return JSON.stringify([trigger, delays, trigger.kind === 'becomes-true' && conditions])
}
/** Whether a change of a rule moves its alarms. */
const moves = (entry: Entry): boolean =>
  touches(entry, ['on', 'pausedBecause']) ||
  (touches(entry, ['definition']) && placedBy(entry.before) !== placedBy(entry.after))

/** Kinds of alarm that a ladder has over a task. */
const OF_LADDERS: readonly AlarmRow['kind'][] = ['ladder', 'repeat']

/** What the alarms of ladders are placed by. */
export interface Placing {
  readonly reader: Reader
  readonly clock: Clock
  readonly firm: Firm
}

/** A task's due, and from when on what it reaches is acted on. */
export interface Placed {
  readonly id: TaskId
  readonly due: Due
  readonly from: number
}

export const ladderKey = (rule: RuleId, task: TaskId): string => `ladder:${rule}:${task}`

/**
 * The alarm of a ladder over one task: at most one stands, for the next rung. What stands still has
 * one too, which passes its rungs by: so nothing has to be put up or taken down when it comes to
 * rest, however large, and what would have happened meanwhile is not made up for.
 */
export function planLadder(
  { reader, clock, firm }: Placing,
  write: Writer,
  rule: LadderRule,
  task: Placed,
): void {
  const now = clock.now()
  const { reached, next } = evaluateLadder(rule.delays, task.due, firm.calendar(), firm.zone(), now)
  // Of the rungs that were already behind when the ladder was put up, only the highest still speaks.
  const last = reached.at(-1)
  const speaks = last && last.at > task.from && !rests(reader, task.id)
  const stand = speaks ? last : next
  if (!stand) return
  write.insert('alarms', {
    at: Math.max(stand.at, now),
    kind: 'ladder',
    key: ladderKey(rule.id, task.id),
    ruleId: rule.id,
    itemKind: 'task',
    itemId: task.id,
    rung: stand.rung,
  })
}

/** A rule as its ladder is put up, if it has one and is at work. */
export function ladderOf(rule: RuleRecord | undefined): LadderRule | undefined {
  if (!rule?.on || rule.pausedBecause !== null) return undefined
  const delays = rungDelays(rule.definition)
  return delays.length ? { id: rule.id, delays, since: rule.since ?? 0 } : undefined
}

/** Takes a task off its ladders. */
function takeOff({ reader }: Placing, write: Writer, id: TaskId): void {
  const of = JSON.stringify(OF_LADDERS)
  for (const alarm of alarmsOfItem.all(reader, { kind: 'task', id, of }))
    write.remove('alarms', alarm.id)
}
/**
 * Puts a task on the ladders of the active rules. A due that was set counts from its own time; what
 * is opened again, from now.
 */
function placeTask(
  placing: Placing,
  write: Writer,
  { id, from }: Pick<Placed, 'id' | 'from'>,
  rules: () => LadderRule[],
): void {
  const { reader } = placing
  const active = rules()
  if (active.length === 0) return
  const task = dueOf.get(reader, { id })
  if (!task?.due || task.closedAt !== null || task.archivedAt !== null) return
  const due = { date: task.due, time: task.dueTime }
  for (const rule of active) planLadder(placing, write, rule, { id, due, from })
}

/** The tasks whose alarms a change moves, each with the moment from which on it is acted on. */
function movedBy({ clock }: Placing, entries: readonly Entry[]): Map<TaskId, number> {
  const moved = new Map<TaskId, number>()
  const now = clock.now()
  for (const entry of entries) {
    const { entity, entityId: id } = entry
    if (entity !== 'tasks' || !touches(entry, [...DUE, ...ENDING])) continue
    const from = touches(entry, DUE) ? 0 : now
    moved.set(id, Math.min(from, moved.get(id) ?? from))
  }
  return moved
}

/** Whether a change moves working days, or the moments that local times are. */
export const movesDays = (entry: Entry): boolean =>
  entry.entity === 'holidays' ||
  (entry.entity === 'firm' && touches(entry, ['zone', 'week', 'hours']))

/** Triggers whose alarms count days. */
const COUNT_DAYS: ReadonlySet<string> = new Set(['late', 'dated', 'becomes-true'])

/** An alarm that comes before all others: a rule is put up anew, in portions, before it acts. */
export function putUp(reader: Reader, write: Writer, id: RuleId): void {
  const key = `placing:${id}`
  const old = alarmByKey.get(reader, { key })
  if (old) write.remove('alarms', old.id)
  write.insert('alarms', { at: 0, kind: 'placing', key, itemKind: 'rule', itemId: id })
}

/** Keeps the alarms of ladders in step with tasks and rules, in the transaction that changes either. */
export function ladderAlarms(reader: Reader, clock: Clock, firm: Firm): Deriver {
  const placing: Placing = { reader, clock, firm }
  return (write, entries) => {
    let known: readonly RuleRecord[] | undefined
    const rules = () => (known ??= rulesInside(reader, entries))
    let climbing: LadderRule[] | undefined
    const active = () => (climbing ??= rules().flatMap((rule) => ladderOf(rule) ?? []))
    for (const entry of entries)
      if (entry.entity === 'rules' && moves(entry)) putUp(reader, write, entry.entityId)
    // Another calendar, or another zone, moves the alarms of all.
    if (entries.some(movesDays))
      for (const { id, definition } of rules())
        if (COUNT_DAYS.has(definition.trigger.kind)) putUp(reader, write, id)
    moveDated(placing, write, entries, rules)
    const made = justMade(entries)
    for (const [id, from] of movedBy(placing, entries)) {
      if (!made.has(id)) takeOff(placing, write, id)
      placeTask(placing, write, { id, from }, active)
    }
  }
}
