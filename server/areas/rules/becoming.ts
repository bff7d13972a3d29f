import { and, asc, eq, gt, isNull, lte, min, sql } from 'drizzle-orm'
import type { RuleId, TaskId } from '#core/brands.ts'
import { addDays, localTime, toInstant } from '#core/calendar/dates.ts'
import { testsOf } from '#core/conditions/condition.ts'
import type { RuleDefinition } from '#contract/rules.ts'
import { ask, most, within } from '../../database/query.ts'
import { holding, tasks } from '../../database/tables/index.ts'
import type { AlarmKind } from '../../engine/handlers.ts'
import { ENGINE, type Writer } from '../../engine/journal.ts'
import { alarmById, alarmByKey, type AlarmRow } from '../../engine/queries.ts'
import type { Engine } from '../../engine/services.ts'
import { sightOf, type Viewer } from '../../engine/viewer.ts'
import { JOIN_ORDER, JOINS } from '../tasks/fields.ts'
import { factsOf } from '../tasks/facts.ts'
import { filterSql } from '../tasks/filter.ts'
import { rests } from '../tasks/rest.ts'
import { drop } from './ladder.ts'
import { ruleById, type RuleRecord } from './queries.ts'
import { carryOut, fail, judge, type Planned } from './run.ts'
import { sayVerdict } from './say.ts'
import { inScope } from './subject.ts'

/**
 * Rules that act when what they ask becomes true of an open task. What holds is remembered, so that
 * a rule acts when it begins to: on a change of the task, and at the beginning of each day, when
 * conditions that count from now are asked anew of all.
 */

/** Nobody in particular asks, who sees everything. */
const NOBODY: Viewer = { id: 0, name: '', access: 'owner', clientId: null }

const rowOf = within((orm, a: { rule: RuleId; task: TaskId }) =>
  orm
    .select({ id: holding.id })
    .from(holding)
    .where(and(eq(holding.ruleId, a.rule), eq(holding.taskId, a.task))),
)
const between = within((orm, a: { rule: RuleId; after: number; upto: number }) =>
  orm
    .select({ id: holding.id, task: holding.taskId })
    .from(holding)
    .where(
      and(
        eq(holding.ruleId, a.rule),
        ...[gt(holding.taskId, a.after), lte(holding.taskId, a.upto)],
      ),
    ),
)
const anyOf = within((orm, a: { rule: RuleId }) =>
  orm.select({ id: holding.id }).from(holding).where(eq(holding.ruleId, a.rule)).limit(most(500)),
)
/** As many open tasks as are looked through at once. */
const AT_ONCE = 200
const openAfter = within((orm, a: { after: number }) =>
  orm
    .select({ id: tasks.id })
    .from(tasks)
    .where(and(gt(tasks.id, a.after), isNull(tasks.closedAt), isNull(tasks.archivedAt)))
    .orderBy(asc(tasks.id))
    .limit(most(AT_ONCE)),
)
const nextTime = within((orm, a: { day: string; time: string }) =>
  orm
    .select({ time: min(tasks.dueTime) })
    .from(tasks)
    .where(
      and(
        ...[eq(tasks.due, sql`${a.day}`), gt(tasks.dueTime, sql`${a.time}`)],
        ...[isNull(tasks.closedAt), isNull(tasks.archivedAt)],
      ),
    ),
)

/** Whether a rule acts when what it asks becomes true, and is at work. */
const isBecoming = (rule: RuleRecord | undefined): rule is RuleRecord =>
  rule?.on === true &&
  rule.pausedBecause === null &&
  rule.definition.trigger.kind === 'becomes-true'

const keyOf = (rule: number): string => `check:${rule}`
/** Fields that follow from the time of day. */
const BY_THE_CLOCK: ReadonlySet<string> = new Set(['late', 'days-late'])
/** When a rule's conditions are asked of all again: when a day begins, or a due time passes. */
function nextCheck({ reader, firm }: Engine, { conditions }: RuleDefinition): number {
  const { date, time } = firm.nowLocal()
  const zone = firm.zone()
  const asks = [...testsOf(conditions)].some(({ field }) => BY_THE_CLOCK.has(field))
  const next = asks ? nextTime.get(reader, { day: date, time })?.time : null
  const midnight = localTime('00:00')
  return next ? toInstant(date, localTime(next), zone) : toInstant(addDays(date, 1), midnight, zone)
}

/** Of some open tasks, those that conditions hold of. */
interface Window {
  readonly held: readonly TaskId[]
  readonly after: number
  readonly upto: number
  readonly last: boolean
}
function windowAfter(engine: Engine, rule: RuleRecord, after: number): Window {
  const some = openAfter.all(engine.reader, { after })
  const upto = some.at(-1)?.id ?? Number.MAX_SAFE_INTEGER
  const last = some.length < AT_ONCE
  const { sql: where, needs } = filterSql(engine, NOBODY, rule.definition.conditions)
  if (needs.has('client')) needs.add('project')
  const joins = JOIN_ORDER.filter((join) => needs.has(join)).map((join) => JOINS[join])
  const held = ask<[id: number]>(
    engine.reader,
    sightOf(NOBODY),
    (sees) => sql`select ${tasks.id} from ${sql.join([sql`${tasks}`, ...joins], sql` `)}
      where ${tasks.id} > ${after} and ${tasks.id} <= ${upto} and ${sees()}
        and ${tasks.closedAt} is null and ${tasks.archivedAt} is null and ${where}
      order by ${tasks.id}`,
  ).map(([id]) => id)
  return { held, after, upto: last ? Number.MAX_SAFE_INTEGER : upto, last }
}

/** Remembers that what a rule asks holds of a task. */
const remember = (write: Writer, ruleId: RuleId, taskId: TaskId): void =>
  void write.insert('holding', { ruleId, taskId })
/**
 * Acts on what became true of a task, which is remembered with it. What stands still is remembered
 * alone: it is not made up for. One that fails is said, and keeps none of the others.
 */
function become(engine: Engine, rule: RuleRecord, id: TaskId): void {
  const { reader, journal, clock } = engine
  const task = factsOf(engine, id)
  if (!task || !inScope(reader, rule, task)) return
  if (rests(reader, id)) return void journal.change(ENGINE, (write) => remember(write, rule.id, id))
  const key = `true:${rule.id}:${id}:${clock.now()}`
  const about = { kind: 'task', id } as const
  const planned: Planned = { rule, task, key, about, name: '', because: [] }
  const because = sayVerdict(engine, judge(engine, rule, task))
  try {
    journal.together(() =>
      journal.change({ kind: 'rule', id: rule.id }, (write) => {
        remember(write, rule.id, id)
        carryOut(engine, write, { ...planned, because }, rule.definition.actions ?? [])
      }),
    )
  } catch (error) {
    const reason = error instanceof Error ? error.message : String(error)
    const now = ruleById.get(reader, { id: rule.id }) ?? rule
    journal.change(ENGINE, (write) => {
      remember(write, rule.id, id)
      fail(engine, write, { ...planned, rule: now, key: `failed:${key}` }, reason)
    })
    engine.log.error({ err: error, rule: rule.id, task: id }, 'a rule failed')
  }
}

/** What becomes, and ceases to be, true of some tasks. */
function differences({ reader }: Engine, rule: RuleRecord, { held, after, upto }: Window) {
  const before = between.all(reader, { rule: rule.id, after, upto })
  const [now, known] = [new Set(held), new Set(before.map(({ task }) => task))]
  return {
    begun: held.filter((id) => !known.has(id)),
    over: before.filter(({ task }) => !now.has(task)).map(({ id }) => id),
  }
}

/** Puts such a rule up over some tasks: what holds already is remembered, and acted on if it is to. */
export function putUpBecoming(
  engine: Engine,
  write: Writer,
  rule: RuleRecord,
  placing: AlarmRow,
): AlarmRow['after'] {
  const window = windowAfter(engine, rule, placing.after?.[1] ?? 0)
  const { begun, over } = differences(engine, rule, window)
  for (const id of over) write.remove('holding', id)
  // Left to the check that comes next, it becomes true then.
  if (rule.since !== null) for (const id of begun) remember(write, rule.id, id)
  if (!window.last) return [engine.firm.today(), window.upto]
  const key = keyOf(rule.id)
  const old = alarmByKey.get(engine.reader, { key })
  const at = rule.since === null ? write.at : nextCheck(engine, rule.definition)
  if (old) write.update('alarms', old, { at, after: null })
  else
    write.insert('alarms', {
      ...{ at, kind: 'check', key, ruleId: rule.id, itemKind: 'rule', itemId: rule.id },
    })
  return null
}
/** Forgets some of what a rule remembered; answers whether there may be more. */
export function forgetSome({ reader }: Engine, write: Writer, rule: RuleId): boolean {
  const some = anyOf.all(reader, { rule })
  for (const { id } of some) write.remove('holding', id)
  return some.length > 0
}

/** As many runs as are made at once. */
const RUNS_AT_ONCE = 10
/** Asks a rule's conditions of some open tasks, and acts on what became true of them. */
function check(engine: Engine, alarm: AlarmRow): void {
  const rule = ruleById.get(engine.reader, { id: alarm.itemId })
  if (!isBecoming(rule)) return drop(engine, alarm)
  const window = windowAfter(engine, rule, alarm.after?.[1] ?? 0)
  const { begun, over } = differences(engine, rule, window)
  const some = begun.slice(0, RUNS_AT_ONCE)
  const last = some.length < begun.length ? some.at(-1) : undefined
  const upto = last ?? (window.last ? null : window.upto)
  for (const id of some) become(engine, rule, id)
  engine.journal.change(ENGINE, (write) => {
    for (const id of over) write.remove('holding', id)
    write.update(
      'alarms',
      alarm,
      upto === null
        ? { at: nextCheck(engine, rule.definition), after: null }
        : { after: [engine.firm.today(), upto] },
    )
  })
}
/** Tries again in an hour what could not be asked. */
function checkFailed({ journal, reader }: Engine, alarm: AlarmRow): void {
  journal.change(ENGINE, (write) => {
    const left = alarmById.get(reader, { id: alarm.id })
    if (left) write.update('alarms', left, { at: write.at + HOUR })
  })
}
const HOUR = 3_600_000
export const checkKind: AlarmKind = { kind: 'check', run: check, failed: checkFailed }

/** A rule that is still being put up acts on nothing that may have held before. */
const isPutUp = ({ reader }: Engine, { id, since }: RuleRecord): boolean =>
  since === null || alarmByKey.get(reader, { key: `placing:${id}` }) === undefined
/**
 * Looks at a task that changed: whether what a rule asks became true of it. What ceased to be true
 * is forgotten.
 */
export function turned(engine: Engine, { rule, task, about }: Planned, holds: boolean): boolean {
  const { reader, journal } = engine
  const row = rowOf.get(reader, { rule: rule.id, task: about.id })
  const now = holds && task.closedAt === null && task.archivedAt === null
  if (row && !now) journal.change(ENGINE, (write) => write.remove('holding', row.id))
  if (row || !now) return false
  if (isPutUp(engine, rule)) return true
  journal.change(ENGINE, (write) => remember(write, rule.id, about.id))
  return false
}
