import { and, asc, eq, gt, isNotNull, isNull } from 'drizzle-orm'
import type { FieldId, IsoDate, TaskId } from '#core/brands.ts'
import { isoDate, localTime } from '#core/calendar/dates.ts'
import { offsetAt, type DateOffset } from '#core/rules/moment.ts'
import { sayDate } from '#core/text/speak.ts'
import { customId } from '#contract/fields.ts'
import type { Trigger } from '#contract/rules.ts'
import { triggerKind } from '#contract/triggers/index.ts'
import { most, within, type Reader } from '../../database/query.ts'
import { fieldValues, tasks } from '../../database/tables/index.ts'
import type { AlarmKind } from '../../engine/handlers.ts'
import type { Entry, Writer } from '../../engine/journal.ts'
import { alarmByKey, alarmsOfItem, type AlarmRow } from '../../engine/queries.ts'
import { hasRun } from '../../engine/runs.ts'
import type { Engine } from '../../engine/services.ts'
import { taskFields } from '../fields/queries.ts'
import { factsOf } from '../tasks/facts.ts'
import { rests } from '../tasks/rest.ts'
import { drop, ladderFailed } from './ladder.ts'
import type { Placing } from './ladder-alarms.ts'
import { AT_ONCE, ruleById, type RuleRecord } from './queries.ts'
import { carryOut, judge, leave, type Planned } from './run.ts'
import { sayVerdict } from './say.ts'
import { inScope } from './subject.ts'

/** Rules that come so long before or after a date of a task: one alarm for each rule and task. */

type Dated = Extract<Trigger, { kind: 'dated' }>
export const offsetOf = ({ days, unit, side, time }: Dated): DateOffset => ({
  ...{ days, unit, side, time: localTime(time) },
})
/** What a rule waits for, where that is a date, and it is at work. */
function datedOf(rule: RuleRecord | undefined): Dated | undefined {
  const { trigger } = rule?.definition ?? {}
  return rule?.on && rule.pausedBecause === null && trigger?.kind === 'dated' ? trigger : undefined
}

/** Columns of tasks that hold dates, by the names of their fields. */
const COLUMNS = { due: tasks.due, start: tasks.start, 'first-due': tasks.firstDue } as const
const isColumn = (field: string): field is keyof typeof COLUMNS => Object.hasOwn(COLUMNS, field)
const open = and(isNull(tasks.closedAt), isNull(tasks.archivedAt))
const byColumn = (column: (typeof COLUMNS)[keyof typeof COLUMNS]) => ({
  one: within((orm, a: { id: TaskId }) =>
    orm
      .select({ date: column })
      .from(tasks)
      .where(and(eq(tasks.id, a.id), open)),
  ),
  some: within((orm, a: { after: number }) =>
    orm
      .select({ id: tasks.id, date: column })
      .from(tasks)
      .where(and(gt(tasks.id, a.after), isNotNull(column), open))
      .orderBy(asc(tasks.id))
      .limit(most(AT_ONCE)),
  ),
})
const DATES = {
  ...{ due: byColumn(tasks.due), start: byColumn(tasks.start) },
  'first-due': byColumn(tasks.firstDue),
}
const ownDate = within((orm, a: { id: TaskId; field: FieldId }) =>
  orm
    .select({ date: fieldValues.text })
    .from(fieldValues)
    .innerJoin(tasks, and(eq(tasks.id, fieldValues.taskId), open))
    .where(and(eq(fieldValues.taskId, a.id), eq(fieldValues.fieldId, a.field))),
)
const ownDates = within((orm, a: { after: number; field: FieldId }) =>
  orm
    .select({ id: tasks.id, date: fieldValues.text })
    .from(fieldValues)
    .innerJoin(tasks, and(eq(tasks.id, fieldValues.taskId), open))
    .where(and(eq(fieldValues.fieldId, a.field), gt(fieldValues.taskId, a.after)))
    .orderBy(asc(fieldValues.taskId))
    .limit(most(AT_ONCE)),
)
/** The date that an open task has in a field. */
export function dateOf(reader: Reader, field: string, id: TaskId): IsoDate | null {
  const own = customId(field)
  const found = isColumn(field)
    ? DATES[field].one.get(reader, { id })
    : own === null
      ? undefined
      : ownDate.get(reader, { id, field: own })
  return found?.date ? isoDate(found.date) : null
}
/** Some open tasks that have a date in a field, in the order of their numbers. */
function datesAfter(reader: Reader, field: string, after: number) {
  const own = customId(field)
  if (isColumn(field)) return DATES[field].some.all(reader, { after })
  return own === null ? [] : ownDates.all(reader, { after, field: own })
}

const keyOf = (rule: number, task: TaskId): string => `dated:${rule}:${task}`
/** Puts up the alarm of a rule for a task's date, unless its moment is past. */
function putUp(
  { firm }: Placing,
  write: Writer,
  { rule, trigger }: { readonly rule: RuleRecord; readonly trigger: Dated },
  { id, date, from }: { readonly id: TaskId; readonly date: IsoDate; readonly from: number },
): void {
  const place = { calendar: firm.calendar(), zone: firm.zone() }
  const at = offsetAt(offsetOf(trigger), date, place)
  if (at <= from) return
  write.insert('alarms', {
    ...{ at, kind: 'dated', key: keyOf(rule.id, id), ruleId: rule.id },
    ...{ itemKind: 'task', itemId: id },
  })
}

/** The columns of tasks whose change moves such alarms. */
const MOVES = ['due', 'start', 'firstDue', 'closedAt', 'archivedAt']
const moves = ({ entity, action, after }: Entry): boolean =>
  entity === 'fieldValues' ||
  (entity === 'tasks' &&
    (action !== 'changed' || MOVES.some((column) => after !== null && column in after)))
/** Puts the alarms of dated rules anew over the tasks whose dates a change moves. */
export function moveDated(
  placing: Placing,
  write: Writer,
  entries: readonly Entry[],
  rules: () => readonly RuleRecord[],
): void {
  const { reader, clock } = placing
  const touched = new Set(
    entries.flatMap((entry) =>
      moves(entry) && entry.item?.kind === 'task' ? [entry.item.id] : [],
    ),
  )
  if (touched.size === 0) return
  const active = rules().flatMap((rule) => {
    const trigger = datedOf(rule)
    return trigger ? [{ rule, trigger }] : []
  })
  if (active.length === 0) return
  for (const id of touched) {
    const of = JSON.stringify(['dated'])
    for (const alarm of alarmsOfItem.all(reader, { kind: 'task', id, of }))
      write.remove('alarms', alarm.id)
    for (const each of active) {
      const date = dateOf(reader, each.trigger.field, id)
      if (date) putUp(placing, write, each, { id, date, from: clock.now() })
    }
  }
}

/** The same in the place of what stood before, unless what was done to the task meanwhile put it up. */
function putUpAnew(
  engine: Engine,
  write: Writer,
  of: { readonly rule: RuleRecord; readonly trigger: Dated; readonly placing: AlarmRow },
  task: { readonly id: TaskId; readonly date: IsoDate; readonly from: number },
): void {
  const old = alarmByKey.get(engine.reader, { key: keyOf(of.rule.id, task.id) })
  if (old && old.id > of.placing.id) return
  if (old) write.remove('alarms', old.id)
  putUp(engine, write, of, task)
}
/** Puts a dated rule up over some tasks; answers how far it has come, or null when that were all. */
export function putUpDated(
  engine: Engine,
  write: Writer,
  rule: RuleRecord,
  placing: AlarmRow,
): AlarmRow['after'] {
  const trigger = datedOf(rule)
  if (!trigger) return null
  const { reader } = engine
  const some = datesAfter(reader, trigger.field, placing.after?.[1] ?? 0)
  const from = rule.since ?? 0
  for (const { id, date } of some)
    if (date)
      putUpAnew(engine, write, { rule, trigger, placing }, { id, date: isoDate(date), from })
  const last = some.at(-1)
  return some.length === AT_ONCE && last?.date ? [isoDate(last.date), last.id] : null
}

/** What is told of the date that a rule came for. */
function sayWhen(engine: Engine, trigger: Dated, date: IsoDate): string {
  const label = taskFields(engine.reader)(trigger.field)?.label.toLowerCase() ?? 'its date'
  const words = triggerKind('dated')?.words(trigger, { ...NO_NAMES, field: () => label }) ?? label
  return `${words}: ${sayDate(date, engine.firm.today())}`
}
const NO_NAMES = { who: () => '', values: () => '', value: () => '', field: () => '' }

/** A date has come near, or passed: the rule acts once for it, if it still stands. */
function come(engine: Engine, alarm: AlarmRow): void {
  const { reader, journal } = engine
  const rule = alarm.ruleId === null ? undefined : ruleById.get(reader, { id: alarm.ruleId })
  const trigger = datedOf(rule)
  const id: TaskId = alarm.itemId
  const date = trigger && dateOf(reader, trigger.field, id)
  const task = factsOf(engine, id)
  const key = `dated:${alarm.ruleId}:${id}:${date}`
  if (!rule || !trigger || !date || !task || hasRun(reader, key)) return drop(engine, alarm)
  if (rests(reader, id) || !inScope(reader, rule, task)) return drop(engine, alarm)
  const verdict = judge(engine, rule, task)
  const reasons = sayVerdict(engine, verdict)
  const about = { kind: 'task', id } as const
  const planned: Planned = { rule, about, task, key, name: '', because: [] }
  journal.change({ kind: 'rule', id: rule.id }, (write) => {
    write.remove('alarms', alarm.id)
    if (!verdict.holds) return leave(engine, write, { ...planned, name: 'Skipped' }, reasons)
    const because = [sayWhen(engine, trigger, date), ...reasons]
    carryOut(engine, write, { ...planned, because }, rule.definition.actions ?? [])
  })
}

export const datedKind: AlarmKind = { kind: 'dated', run: come, failed: ladderFailed }
