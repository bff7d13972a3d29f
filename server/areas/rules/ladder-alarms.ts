import type { RuleId, TaskId } from '#core/brands.ts'
import { localTime } from '#core/calendar/dates.ts'
import { evaluateLadder, type Due, type RungDelay } from '#core/rules/ladder.ts'
import { rungsOf, type RuleDefinition } from '#contract/rules.ts'
import type { Reader } from '../../database/query.ts'
import type { Clock } from '../../engine/clock.ts'
import type { Firm } from '../../engine/firm.ts'
import type { Deriver, Entry, Writer } from '../../engine/journal.ts'
import { alarmsOfItem, alarmsOfRule } from '../../engine/queries.ts'
import { duesIn, duesUnder, rests } from '../tasks/rest.ts'
import { activeRules, dueOf, openDues } from './queries.ts'

interface LadderRule {
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

/** Fields of a task that place its alarms: its due, and what makes it stand still. */
const DUE = ['due', 'dueTime']
const RESTING = ['closedAt', 'archivedAt']
const PLACING = [...DUE, ...RESTING, 'projectId', 'parentId']
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

/** A task's due, and from when on what it reaches is acted on. */
interface Placed {
  readonly id: TaskId
  readonly due: Due
  readonly from: number
}

/** The alarms of a ladder over one task: at most one stands, for the next rung. */
function planLadder({ clock, firm }: Placing, write: Writer, rule: LadderRule, task: Placed): void {
  const now = clock.now()
  const { reached, next } = evaluateLadder(rule.delays, task.due, firm.calendar(), firm.zone(), now)
  // Of the rungs that were already behind when the ladder was put up, only the highest still speaks.
  const last = reached.at(-1)
  const stand = last && last.at > task.from ? last : next
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

/** Takes a task off its ladders and puts it on those of the active rules, unless it stands still. */
function placeTask(
  placing: Placing,
  write: Writer,
  { id, from }: Pick<Placed, 'id' | 'from'>,
  rules: () => LadderRule[],
): void {
  const { reader } = placing
  for (const alarm of alarmsOfItem.all(reader, { kind: 'task', id }))
    write.remove('alarms', alarm.id)
  const active = rules()
  if (active.length === 0) return
  const task = dueOf.get(reader, { id })
  if (!task?.due || rests(reader, id)) return
  const due = { date: task.due, time: task.dueTime }
  for (const rule of active) planLadder(placing, write, rule, { id, due, from })
}

/**
 * The tasks whose alarms a change moves, each with the moment from which on it is acted on. A due
 * that was set counts from its own time; what comes back from standing still, or moves elsewhere,
 * from now: what would have happened meanwhile is not made up for.
 */
function movedBy({ reader, clock }: Placing, entries: readonly Entry[]): Map<TaskId, number> {
  const moved = new Map<TaskId, number>()
  const now = clock.now()
  const place = (id: TaskId, from: number) => {
    moved.set(id, Math.min(from, moved.get(id) ?? from))
  }
  for (const entry of entries) {
    const { entity, entityId: id } = entry
    if (entity === 'tasks' && touches(entry, PLACING)) place(id, touches(entry, DUE) ? 0 : now)
    if (entry.action !== 'changed' || !touches(entry, RESTING)) continue
    const within =
      entity === 'projects'
        ? duesIn.all(reader, { project: id })
        : entity === 'tasks'
          ? duesUnder.all(reader, { id })
          : []
    for (const task of within) place(task.id, now)
  }
  return moved
}

/** Puts a rule up anew over everything open. */
function placeRule(placing: Placing, write: Writer, id: RuleId, rules: () => LadderRule[]): void {
  for (const alarm of alarmsOfRule.all(placing.reader, { id })) write.remove('alarms', alarm.id)
  const rule = rules().find((r) => r.id === id)
  if (!rule) return
  for (const { id: task, due, dueTime } of openDues.all(placing.reader))
    if (due)
      planLadder(placing, write, rule, {
        id: task,
        due: { date: due, time: dueTime },
        from: rule.since,
      })
}

/** Keeps the alarms of ladders in step with tasks and rules, in the transaction that changes either. */
export function ladderAlarms(reader: Reader, clock: Clock, firm: Firm): Deriver {
  const placing: Placing = { reader, clock, firm }
  return (write, entries) => {
    let known: LadderRule[] | undefined
    const active = () =>
      (known ??= activeRules.all(reader).map(({ id, definition, since }) => ({
        id,
        delays: rungDelays(definition),
        since: since ?? 0,
      })))
    const edited = new Set(
      entries.filter((e) => e.entity === 'rules' && touches(e, RULING)).map((e) => e.entityId),
    )
    // A rule that changed is put up over everything open, what this change made included.
    const others = () => active().filter((rule) => !edited.has(rule.id))
    for (const [id, from] of movedBy(placing, entries))
      placeTask(placing, write, { id, from }, others)
    for (const id of edited) placeRule(placing, write, id, active)
  }
}
