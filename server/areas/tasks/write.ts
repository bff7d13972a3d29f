import { isoDate } from '#core/calendar/dates.ts'
import { refuse } from '#core/refusal.ts'
import type { CustomField, FieldValue, StateRow } from '#contract/fields.ts'
import type { NewTask, TaskPatch } from '#contract/tasks.ts'
import { STATE_NAMES, type State } from '#contract/words.ts'
import type { Engine } from '../../engine/services.ts'
import type { Writer } from '../../engine/journal.ts'
import { fieldsOf } from '../fields/queries.ts'
import { cleanRich } from '../talk/rich.ts'
import { firstOfKind, setOf, stateRow, statesOf } from '../states/queries.ts'

/**
 * Writes of tasks that people, rules, series and bulk changes share. Callers have checked who may.
 */

export const isClosed = (state: State): boolean => state === 'done' || state === 'dropped'

/** @throws Refusal `start-after-due`, `time-without-date` */
export function checkDates(
  start: string | null | undefined,
  due: string | null | undefined,
  dueTime: string | null | undefined,
): void {
  if (start) isoDate(start, 'start')
  if (due) isoDate(due, 'due')
  if (start && due && start > due)
    refuse(
      'start-after-due',
      `The start (${start}) is after the due date (${due}); move one of them.`,
      'start',
    )
  if (dueTime && !due)
    refuse('time-without-date', 'A time needs a due date; set the date first.', 'dueTime')
}

/**
 * The row of a set that a wish for a state means: the state itself, its namesake in the set, or the
 * first of a kind.
 */
function resolveState(
  engine: Engine,
  setId: number,
  wish: { stateId?: number | undefined; state?: State | undefined },
  nowId: number | null,
): StateRow {
  const { db } = engine
  if (wish.stateId !== undefined) {
    const asked =
      stateRow(db, wish.stateId) ??
      refuse('state-gone', 'That state was removed in the meantime; choose another.', 'state')
    if (asked.setId === setId) return asked
    const namesake = statesOf(db, setId).find(
      (s) => s.name.toLowerCase() === asked.name.toLowerCase(),
    )
    return (
      namesake ??
      firstOfKind(db, setId, asked.kind) ??
      refuse('no-such-state', `The states here have none like “${asked.name}”.`, 'state')
    )
  }
  const kind = wish.state ?? 'not-started'
  const now = nowId === null ? undefined : stateRow(db, nowId)
  if (now?.setId === setId && now.kind === kind) return now
  return (
    firstOfKind(db, setId, kind) ??
    refuse(
      'no-such-state',
      `The states here have none of the kind “${STATE_NAMES[kind]}”.`,
      'state',
    )
  )
}

interface LinkRow {
  id: number
  other: number
}
/** Makes the rows of a link table say exactly what is wanted; answers whether anything changed. */
function setLinks(
  engine: Engine,
  write: Writer,
  table: 'taskAssignees' | 'taskFollowers' | 'taskTags',
  column: 'personId' | 'tagId',
  taskId: number,
  wanted: readonly number[],
): boolean {
  const now = engine.db
    .prepare(`select id, ${column} as other from ${table} where taskId = ?`)
    .all(taskId) as LinkRow[]
  const gone = now.filter((row) => !wanted.includes(row.other))
  const fresh = wanted.filter((other) => !now.some((row) => row.other === other))
  for (const row of gone) write.remove(table, row.id)
  for (const other of fresh) write.insert(table, { taskId, [column]: other } as never)
  return gone.length + fresh.length > 0
}
export const setAssignees = (
  engine: Engine,
  write: Writer,
  taskId: number,
  people: readonly number[],
): boolean => setLinks(engine, write, 'taskAssignees', 'personId', taskId, people)
export const setFollowers = (
  engine: Engine,
  write: Writer,
  taskId: number,
  people: readonly number[],
): boolean => setLinks(engine, write, 'taskFollowers', 'personId', taskId, people)
export const setTags = (
  engine: Engine,
  write: Writer,
  taskId: number,
  tags: readonly number[],
): boolean => setLinks(engine, write, 'taskTags', 'tagId', taskId, tags)

/** A value as its field keeps it. @throws Refusal `bad-value` that says what would be right */
function stored(
  engine: Engine,
  field: CustomField,
  value: FieldValue,
): { text: string | null; number: number | null } | null {
  if (value === null || value === '') return null
  const bad = (want: string): never =>
    refuse('bad-value', `“${field.name}” takes ${want}.`, `field:${field.id}`)
  switch (field.kind) {
    case 'text':
      return typeof value === 'string' ? { text: value, number: null } : bad('text')
    case 'link':
      return typeof value === 'string' && /^https?:\/\/[^\s]+$/i.test(value)
        ? { text: value, number: null }
        : bad('an address that begins with http:// or https://')
    case 'date':
      return typeof value === 'string'
        ? { text: isoDate(value, `field:${field.id}`), number: null }
        : bad('a date written YYYY-MM-DD')
    case 'choice':
      return field.options.choices?.some((c) => c.key === value)
        ? { text: String(value), number: null }
        : bad('one of its choices')
    case 'number':
      return typeof value === 'number' && Number.isFinite(value)
        ? { text: null, number: value }
        : bad('a number')
    case 'money':
      return typeof value === 'number' && Number.isSafeInteger(value)
        ? { text: null, number: value }
        : bad('an amount in whole minor units')
    case 'person':
      return typeof value === 'number' &&
        engine.db.prepare('select 1 from people where id = ?').get(value)
        ? { text: null, number: value }
        : bad('a person who is here')
    case 'yes-no':
      return typeof value === 'boolean' || value === 0 || value === 1
        ? { text: null, number: value ? 1 : 0 }
        : bad('yes or no')
  }
}

/** Sets values of custom fields; null empties one. @throws Refusal `field-gone`, `bad-value` */
export function setFields(
  engine: Engine,
  write: Writer,
  taskId: number,
  projectId: number | null,
  values: Readonly<Record<string, FieldValue>>,
): boolean {
  const here = fieldsOf(engine.db, projectId)
  let changed = false
  for (const [key, value] of Object.entries(values)) {
    const field =
      here.find((f) => f.id === Number(key)) ??
      refuse('field-gone', 'This field is not shown here any more.', `field:${key}`)
    const row = engine.db
      .prepare('select id, text, number from fieldValues where taskId = ? and fieldId = ?')
      .get(taskId, field.id) as
      { id: number; text: string | null; number: number | null } | undefined
    const next = stored(engine, field, value)
    if (next === null) {
      if (!row) continue
      write.remove('fieldValues', row.id)
      changed = true
    } else if (!row) {
      write.insert('fieldValues', { taskId, fieldId: field.id, ...next })
      changed = true
    } else if (write.update('fieldValues', row.id, next)) changed = true
  }
  return changed
}

interface Now {
  due: string | null
  dueTime: string | null
  start: string | null
  closedAt: number | null
  archivedAt: number | null
  version: number
  stateId: number | null
  state: State
  projectId: number | null
  parentId: number | null
  datesFollow: number
}

/** Columns that a patch may name as they are. */
const PLAIN = [
  'title',
  'priority',
  'estimate',
  'clientId',
  'doneBy',
  'phaseId',
  'start',
  'due',
] as const

/**
 * Writes an edit of a task with the columns that follow from others: closing, the named state,
 * standing off the
 * ladder when a due moves, and what parents take over from their subtasks.
 */
export function patchTask(
  engine: Engine,
  write: Writer,
  id: number,
  patch: TaskPatch & { position?: number; mergedInto?: number },
): void {
  const { db } = engine
  const before = db.prepare('select * from tasks where id = ?').get(id) as Now
  const { assignees, estimates, followers, tags, fields, description } = patch
  const due = patch.due === undefined ? before.due : patch.due
  const dueTime = due === null ? null : patch.dueTime === undefined ? before.dueTime : patch.dueTime
  const start = patch.start === undefined ? before.start : patch.start
  if (patch.due !== undefined || patch.dueTime !== undefined || patch.start !== undefined)
    checkDates(start, due, dueTime)
  const moved = due !== before.due || dueTime !== before.dueTime
  const projectId = patch.projectId === undefined ? before.projectId : patch.projectId
  const rehomed = projectId !== before.projectId
  const state =
    patch.stateId !== undefined || patch.state !== undefined
      ? resolveState(engine, setOf(db, projectId), patch, before.stateId)
      : rehomed && before.stateId !== null
        ? resolveState(engine, setOf(db, projectId), { stateId: before.stateId }, before.stateId)
        : undefined
  const closedAt =
    state === undefined
      ? before.closedAt
      : isClosed(state.kind)
        ? (before.closedAt ?? write.at)
        : null
  let touched = false
  if (assignees && setAssignees(engine, write, id, assignees)) touched = true
  if (followers && setFollowers(engine, write, id, followers)) touched = true
  if (tags && setTags(engine, write, id, tags)) touched = true
  if (fields && setFields(engine, write, id, projectId, fields)) touched = true
  for (const [person, estimate] of Object.entries(estimates ?? {})) {
    const row = db
      .prepare('select id from taskAssignees where taskId = ? and personId = ?')
      .get(id, Number(person)) as { id: number } | undefined
    if (row && write.update('taskAssignees', row.id, { estimate })) touched = true
  }
  const columns: Record<string, unknown> = state ? { state: state.kind, stateId: state.id } : {}
  for (const name of PLAIN) if (patch[name] !== undefined) columns[name] = patch[name]
  if (rehomed) {
    columns['projectId'] = projectId
    // A phase belongs to its project: without a new one the task stands in none.
    if (patch.phaseId === undefined) columns['phaseId'] = null
  }
  if (patch.position !== undefined) columns['position'] = patch.position
  if (patch.mergedInto !== undefined) columns['mergedInto'] = patch.mergedInto
  if (patch.parentId !== undefined) columns['parentId'] = patch.parentId
  if (patch.datesFollow !== undefined) columns['datesFollow'] = patch.datesFollow ? 1 : 0
  if (patch.stateFollows !== undefined) columns['stateFollows'] = patch.stateFollows ? 1 : 0
  if (patch.archived !== undefined)
    columns['archivedAt'] = patch.archived ? (before.archivedAt ?? write.at) : null
  if (description !== undefined) columns['description'] = cleanRich(description)
  // The estimate of a task that several share is the sum of their parts, once they are named.
  if (estimates && patch.estimate === undefined) {
    const parts = db
      .prepare('select sum(estimate) as sum from taskAssignees where taskId = ?')
      .get(id) as { sum: number | null }
    if (parts.sum !== null) columns['estimate'] = parts.sum
  }
  const all: Record<string, unknown> = {
    ...columns,
    dueTime,
    closedAt,
    ...((moved || closedAt !== null) && { rung: 0, rungOf: null }),
  }
  const differs =
    touched ||
    Object.entries(all).some(
      ([name, value]) => value !== (before as unknown as Record<string, unknown>)[name],
    )
  if (differs) write.update('tasks', id, { ...all, version: before.version + 1 } as never)
  if (rehomed)
    for (const child of db.prepare('select id from tasks where parentId = ?').all(id) as {
      id: number
    }[])
      patchTask(engine, write, child.id, { projectId })
  for (const parent of new Set([before.parentId, patch.parentId ?? null]))
    if (parent !== null) followSubtasks(engine, write, parent)
  if (patch.datesFollow || patch.stateFollows) followSubtasks(engine, write, id)
}

/**
 * Brings a parent's dates and state in line with its subtasks, where it is to follow them, and so
 * on upward.
 */
function followSubtasks(engine: Engine, write: Writer, id: number): void {
  const { db } = engine
  const parent = db.prepare('select * from tasks where id = ?').get(id) as
    (Now & { stateFollows: number }) | undefined
  if (!parent || (!parent.datesFollow && !parent.stateFollows)) return
  const children = db
    .prepare('select start, due, state from tasks where parentId = ? and archivedAt is null')
    .all(id) as Pick<Now, 'start' | 'due' | 'state'>[]
  if (children.length === 0) return
  const patch: TaskPatch = {}
  if (parent.datesFollow) {
    const counting = children.filter((c) => c.state !== 'dropped')
    const begins = counting.flatMap((c) => c.start ?? c.due ?? []).sort()
    const ends = counting.flatMap((c) => c.due ?? []).sort()
    const due = ends.at(-1) ?? null
    const start = begins[0] !== undefined && (due === null || begins[0] <= due) ? begins[0] : null
    if (start !== parent.start) patch.start = start
    if (due !== parent.due) patch.due = due
  }
  if (parent.stateFollows) {
    const kinds = children.map((c) => c.state)
    const state: State = kinds.every((k) => k === 'dropped')
      ? 'dropped'
      : kinds.every(isClosed)
        ? 'done'
        : kinds.every((k) => k === 'not-started' || k === 'dropped')
          ? 'not-started'
          : kinds.some(
                (k) =>
                  k === 'under-way' || k === 'in-review' || k === 'done' || k === 'not-started',
              )
            ? 'under-way'
            : 'waiting'
    if (state !== parent.state) patch.state = state
  }
  if (Object.keys(patch).length) patchTask(engine, write, id, patch)
}

/** The last place by hand in a project; tasks of no project have none. */
export const lastPosition = (engine: Engine, projectId: number | null): number =>
  projectId === null
    ? -1
    : (
        engine.db
          .prepare('select coalesce(max(position), -1) as n from tasks where projectId = ?')
          .get(projectId) as { n: number }
      ).n

export type InsertTask = NewTask & {
  creatorId?: number | null
  seriesId?: number | null
  occurrence?: string | null
  role?: string | null
  position?: number
}

/** Writes a task and what belongs to it. `description` is rich text; it is made safe here. */
export function insertTask(engine: Engine, write: Writer, task: InsertTask): number {
  const {
    assignees = [],
    estimates = {},
    followers = [],
    tags = [],
    fields,
    checklist = [],
    description,
    archived,
    datesFollow,
    stateFollows,
    state,
    stateId,
    ...columns
  } = task
  const projectId = columns.projectId ?? null
  const stand = resolveState(engine, setOf(engine.db, projectId), { state, stateId }, null)
  const id = write.insert('tasks', {
    ...columns,
    description: description === undefined ? '' : cleanRich(description),
    datesFollow: datesFollow ? 1 : 0,
    stateFollows: stateFollows ? 1 : 0,
    state: stand.kind,
    stateId: stand.id,
    createdAt: write.at,
    closedAt: isClosed(stand.kind) ? write.at : null,
    archivedAt: archived ? write.at : null,
  })
  for (const personId of assignees)
    write.insert('taskAssignees', { taskId: id, personId, estimate: estimates[personId] ?? null })
  for (const personId of followers) write.insert('taskFollowers', { taskId: id, personId })
  for (const tagId of tags) write.insert('taskTags', { taskId: id, tagId })
  checklist.forEach((title, position) =>
    write.insert('checklistItems', { taskId: id, title, position }),
  )
  if (fields) setFields(engine, write, id, projectId, fields)
  if (columns.parentId) followSubtasks(engine, write, columns.parentId)
  return id
}
