import { and, eq, isNotNull, isNull, lt, sql } from 'drizzle-orm'
import type { ChangeId, StateId, TaskId } from '#core/brands.ts'
import type { State } from '#contract/words.ts'
import { within, type Reader } from '../../database/query.ts'
import {
  journal,
  openAssignments,
  openUnassigned,
  stateDates as dates,
  taskAssignees,
  tasks,
} from '../../database/tables/index.ts'
import type { Deriver, Entry, Writer } from '../../engine/journal.ts'
import { moved } from '../../engine/tally.ts'
import { countIn } from '../states/queries.ts'

/** What derivers keep of tasks, in the transaction that changes them. */

const standing = within((orm, a: { id: TaskId }) =>
  orm.select({ stateId: tasks.stateId, state: tasks.state }).from(tasks).where(eq(tasks.id, a.id)),
)

const enteredBefore = within((orm, a: { taskId: TaskId; stateId: StateId }) =>
  orm
    .select()
    .from(dates)
    .where(and(eq(dates.taskId, a.taskId), eq(dates.stateId, a.stateId))),
)

/** When a task entered each of its states last, as the journal tells it before a change. */
const enteredWithout = within((orm, a: { taskId: TaskId; change: ChangeId }) => {
  const stateId = sql<StateId>`json_extract(${journal.after}, '$.stateId')`
  return orm
    .select({
      stateId: stateId.as('stateId'),
      kind: sql<State>`json_extract(${journal.after}, '$.state')`.as('kind'),
      at: sql<number>`max(${journal.at})`.as('at'),
    })
    .from(journal)
    .where(
      and(
        eq(journal.entity, 'tasks'),
        eq(journal.entityId, a.taskId),
        lt(journal.change, a.change),
        isNotNull(stateId),
      ),
    )
    .groupBy(stateId)
})
/** Brings the dates of a task back to what they were before a change that is taken back. */
function datesWithout(reader: Reader, write: Writer, entry: Entry, change: ChangeId): void {
  const { entityId: taskId, action, before } = entry
  const dates = enteredWithout.all(reader, { taskId, change })
  if (action === 'made') for (const date of dates) write.insert('stateDates', { taskId, ...date })
  const left = before?.['stateId']
  if (action === 'made' || typeof left !== 'number') return
  const row = enteredBefore.get(reader, { taskId, stateId: left })
  const date = dates.find(({ stateId }) => stateId === left)
  if (row && date) write.update('stateDates', row, { at: date.at })
  else if (row) write.remove('stateDates', row.id)
}

const datesOf = within((orm, a: { id: TaskId }) =>
  orm.select({ id: dates.id }).from(dates).where(eq(dates.taskId, a.id)),
)
/** The dates of what was never made go with it, also where no key takes them along. */
function datesOfNone(reader: Reader, write: Writer, { entity, entityId: id, action }: Entry): void {
  if (entity !== 'tasks' || action !== 'removed') return
  for (const date of datesOf.all(reader, { id })) write.remove('stateDates', date.id)
}

/** Whether an entry brings a task to a state. */
const enters = ({ entity, action, after }: Entry): boolean =>
  entity === 'tasks' &&
  after !== null &&
  (action === 'made' || (action === 'changed' && ('stateId' in after || 'state' in after)))

/** Keeps the newest date of entering each state, whoever moved the task: people, rules, undo. */
export const stateDates =
  (reader: Reader): Deriver =>
  (write, entries, takenBack) => {
    for (const entry of entries) datesOfNone(reader, write, entry)
    for (const entry of entries.filter(enters)) {
      const { entityId: taskId, action, at } = entry
      const task = standing.get(reader, { id: taskId })
      if (!task) continue
      if (takenBack !== undefined) {
        datesWithout(reader, write, entry, takenBack)
        continue
      }
      const { stateId, state: kind } = task
      const entered = action === 'changed' && stateId !== null
      const before = entered ? enteredBefore.get(reader, { taskId, stateId }) : undefined
      if (before) write.update('stateDates', before, { at })
      else write.insert('stateDates', { taskId, stateId, kind, at })
    }
  }

/** A task that is neither closed nor archived, as it stands among what nobody is on. */
const openTask = within((orm, a: { id: TaskId }) =>
  orm
    .select({ projectId: tasks.projectId, role: tasks.role, creatorId: tasks.creatorId })
    .from(tasks)
    .where(and(eq(tasks.id, a.id), isNull(tasks.closedAt), isNull(tasks.archivedAt))),
)

const people = within((orm, a: { id: TaskId }) =>
  orm
    .select({ personId: taskAssignees.personId })
    .from(taskAssignees)
    .where(eq(taskAssignees.taskId, a.id)),
)
const openFor = within((orm, a: { id: TaskId }) =>
  orm
    .select({ id: openAssignments.id, personId: openAssignments.personId })
    .from(openAssignments)
    .where(eq(openAssignments.taskId, a.id)),
)

const unassigned = within((orm, a: { id: TaskId }) =>
  orm.select().from(openUnassigned).where(eq(openUnassigned.id, a.id)),
)

/** Columns of a task that place it among the open work. */
const PLACING = ['closedAt', 'archivedAt', 'projectId', 'role']
/** The tasks whose place among the open work an entry may have changed. */
function placed({ entity, action, before, after, item }: Entry): TaskId[] {
  if (entity === 'tasks')
    return action !== 'changed' || PLACING.some((column) => after && column in after)
      ? item
        ? [item.id]
        : []
      : []
  if (entity !== 'taskAssignees') return []
  // One that moved counts at both ends.
  const ends = [before?.['taskId'], after?.['taskId'], item?.id]
  return ends.filter((id) => typeof id === 'number')
}

/** Places a task that was just made among the open work. */
function placeNew(reader: Reader, write: Writer, id: TaskId): void {
  const open = openTask.get(reader, { id })
  if (!open) return
  const on = people.all(reader, { id })
  for (const { personId } of on) write.insert('openAssignments', { personId, taskId: id })
  if (on.length === 0) write.insert('openUnassigned', { id, ...open })
}

/** Brings the open work of one task to where it stands. */
function placeWork(reader: Reader, write: Writer, id: TaskId): void {
  const open = openTask.get(reader, { id })
  const on = open ? people.all(reader, { id }).map((p) => p.personId) : []
  const missing = new Set(on)
  for (const row of openFor.all(reader, { id }))
    if (!missing.delete(row.personId)) write.remove('openAssignments', row.id)
  for (const personId of missing) write.insert('openAssignments', { personId, taskId: id })
  const lone = unassigned.get(reader, { id })
  if (!open || on.length > 0) {
    if (lone) write.remove('openUnassigned', id)
  } else if (lone) write.update('openUnassigned', lone, open)
  else write.insert('openUnassigned', { id, ...open })
}

/** The tasks that were just made: nothing is kept of them yet. */
export function justMade(entries: readonly Entry[]): ReadonlySet<TaskId> {
  const made = new Set<TaskId>()
  for (const { entity, action, entityId } of entries)
    if (entity === 'tasks' && action === 'made') made.add(entityId)
  return made
}

/** Keeps the open work of each person, and what nobody is on: what is neither closed nor archived. */
export const openWork =
  (reader: Reader): Deriver =>
  (write, entries) => {
    const made = justMade(entries)
    for (const id of new Set(entries.flatMap(placed)))
      (made.has(id) ? placeNew : placeWork)(reader, write, id)
  }

/** Keeps how many tasks stand in each state. */
export const stateTallies =
  (reader: Reader): Deriver =>
  (write, entries) => {
    for (const [id, by] of moved<StateId>(entries, 'tasks', 'stateId')) {
      const now = countIn.get(reader, { id })
      if (now) write.update('stateCounts', now, { tasks: now.tasks + by })
      else write.insert('stateCounts', { id, tasks: by })
    }
  }
