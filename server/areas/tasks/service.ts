import { refuse } from '#core/refusal.ts'
import { isoDate } from '#core/calendar/dates.ts'
import type { NewTask, TaskPatch, TaskSheet } from '#contract/tasks.ts'
import type { State } from '#contract/words.ts'
import type { Engine } from '../../engine/services.ts'
import type { Writer } from '../../engine/journal.ts'
import { actorOf, isGuest, needMember, type Viewer } from '../../engine/viewer.ts'
import { taskRow } from './queries.ts'

/** Raised when someone else saved first: carries both versions, so that the person can choose. */
export class Clash extends Error {
  constructor(
    readonly mine: unknown,
    readonly theirs: unknown,
  ) {
    super('Someone else saved this task while you were editing it.')
  }
}

export const isClosed = (state: State): boolean => state === 'done' || state === 'dropped'

/** @throws Refusal `not-found`, the same whether it is missing or not theirs to see. */
export function needTask(engine: Engine, viewer: Viewer, id: number) {
  return taskRow(engine, viewer, id) ?? refuse('not-found', `There is no task ${id} here, or it is not shared with you.`)
}

/** Everything the task sheet shows. */
export function taskSheet(engine: Engine, viewer: Viewer, id: number): TaskSheet {
  const row = needTask(engine, viewer, id)
  const { db } = engine
  const more = db.prepare('select t.description, t.createdAt, t.creatorId, w.name as creator from tasks t left join people w on w.id = t.creatorId where t.id = ?').get(id) as {
    description: string
    createdAt: number
    creatorId: number | null
    creator: string | null
  }
  const items = db.prepare('select id, title, done from checklistItems where taskId = ? order by position, id').all(id) as { id: number; title: string; done: number }[]
  const comments = db
    .prepare('select c.id, c.body, c.at, c.authorId, w.name from comments c left join people w on w.id = c.authorId where c.taskId = ? order by c.at, c.id')
    .all(id) as { id: number; body: string; at: number; authorId: number | null; name: string | null }[]
  return {
    ...row,
    description: more.description,
    createdAt: more.createdAt,
    creator: more.creatorId === null ? null : { id: more.creatorId, name: more.creator! },
    items: items.map((i) => ({ ...i, done: i.done === 1 })),
    comments: comments.map((c) => ({ id: c.id, body: c.body, at: c.at, author: c.authorId === null ? null : { id: c.authorId, name: c.name! } })),
    may: { edit: !isGuest(viewer), progress: true },
  }
}

function checkDates(start: string | null | undefined, due: string | null | undefined, dueTime: string | null | undefined): void {
  if (start) isoDate(start, 'start')
  if (due) isoDate(due, 'due')
  if (start && due && start > due) refuse('start-after-due', `The start (${start}) is after the due date (${due}); move one of them.`, 'start')
  if (dueTime && !due) refuse('time-without-date', 'A time needs a due date; set the date first.', 'dueTime')
}

function checkPeople(engine: Engine, ids: readonly number[]): void {
  for (const id of ids) {
    const person = engine.db.prepare('select name, active from people where id = ?').get(id) as { name: string; active: number } | undefined
    if (!person) refuse('no-such-person', `There is no person ${id}.`, 'assignees')
    if (!person.active) refuse('person-left', `${person.name} has left; choose someone who is here.`, 'assignees')
  }
}

/** Sets who works on a task; answers whether anything changed. */
export function setAssignees(engine: Engine, write: Writer, taskId: number, people: readonly number[]): boolean {
  const now = engine.db.prepare('select id, personId from taskAssignees where taskId = ?').all(taskId) as { id: number; personId: number }[]
  const gone = now.filter((a) => !people.includes(a.personId))
  const fresh = people.filter((p) => !now.some((a) => a.personId === p))
  for (const a of gone) write.remove('taskAssignees', a.id)
  for (const personId of fresh) write.insert('taskAssignees', { taskId, personId })
  return gone.length + fresh.length > 0
}

/** Columns that follow from others: closing, and standing off the ladder when a due moves. Used by people and rules alike. */
export function patchTask(engine: Engine, write: Writer, id: number, patch: Omit<TaskPatch, 'assignees'>): void {
  const before = engine.db.prepare('select * from tasks where id = ?').get(id) as {
    due: string | null
    dueTime: string | null
    closedAt: number | null
    version: number
    start: string | null
  }
  const due = patch.due === undefined ? before.due : patch.due
  const dueTime = due === null ? null : patch.dueTime === undefined ? before.dueTime : patch.dueTime
  checkDates(patch.start === undefined ? before.start : patch.start, due, dueTime)
  const moved = due !== before.due || dueTime !== before.dueTime
  const closedAt = patch.state === undefined ? before.closedAt : isClosed(patch.state) ? (before.closedAt ?? write.at) : null
  write.update('tasks', id, {
    ...patch,
    dueTime,
    closedAt,
    ...((moved || closedAt !== null) && { rung: 0, rungOf: null }),
    version: before.version + 1,
  })
}

/** What guests may change of what was handed to them: how far it is. */
const GUEST_FIELDS: readonly (keyof TaskPatch)[] = ['state']

/**
 * Saves an edit of a task, if it still is at the version the editor saw.
 * @throws Clash with both versions; Refusal for what is not allowed or not possible.
 */
export function editTask(engine: Engine, viewer: Viewer, id: number, patch: TaskPatch, seenVersion: number | null): TaskSheet {
  const { journal } = engine
  journal.change(actorOf(viewer), (write) => {
    const row = needTask(engine, viewer, id)
    if (isGuest(viewer) && Object.keys(patch).some((field) => !GUEST_FIELDS.includes(field as keyof TaskPatch)))
      refuse('forbidden', 'Guests may change the state of a task and comment on it, nothing else.')
    if (seenVersion !== null && seenVersion !== row.version) throw new Clash(patch, taskSheet(engine, viewer, id))
    const { assignees, ...fields } = patch
    if (assignees) {
      checkPeople(engine, assignees)
      setAssignees(engine, write, id, assignees)
    }
    patchTask(engine, write, id, fields)
  })
  return taskSheet(engine, viewer, id)
}

/** Writes a task and what belongs to it; the caller has checked who may. */
export function insertTask(
  write: Writer,
  task: NewTask & { creatorId?: number | null; seriesId?: number | null; occurrence?: string | null; role?: string | null; position?: number },
): number {
  const { assignees = [], checklist = [], ...fields } = task
  const id = write.insert('tasks', { ...fields, createdAt: write.at, closedAt: fields.state && isClosed(fields.state) ? write.at : null })
  for (const personId of assignees) write.insert('taskAssignees', { taskId: id, personId })
  checklist.forEach((title, position) => write.insert('checklistItems', { taskId: id, title, position }))
  return id
}

/** Makes a task by hand. */
export function makeTask(engine: Engine, viewer: Viewer, task: NewTask): TaskSheet {
  needMember(viewer, 'make tasks')
  checkDates(task.start, task.due, task.dueTime)
  checkPeople(engine, task.assignees ?? [])
  const phase = task.phaseId ? (engine.db.prepare('select projectId from phases where id = ?').get(task.phaseId) as { projectId: number } | undefined) : undefined
  if (task.phaseId && (!phase || phase.projectId !== task.projectId)) refuse('no-such-phase', 'That phase is not part of the project.', 'phaseId')
  if (task.projectId && !engine.db.prepare('select 1 from projects where id = ?').get(task.projectId))
    refuse('no-such-project', `There is no project ${task.projectId}.`, 'projectId')
  if (task.clientId && !engine.db.prepare('select 1 from clients where id = ?').get(task.clientId)) refuse('no-such-client', `There is no client ${task.clientId}.`, 'clientId')
  const id = engine.journal.change(actorOf(viewer), (write) => insertTask(write, { ...task, creatorId: viewer.id }))
  return taskSheet(engine, viewer, id)
}

export function addComment(engine: Engine, viewer: Viewer, taskId: number, body: string): TaskSheet {
  needTask(engine, viewer, taskId)
  engine.journal.change(actorOf(viewer), (write) => write.insert('comments', { taskId, authorId: viewer.id, body, at: write.at }))
  return taskSheet(engine, viewer, taskId)
}

export function addItem(engine: Engine, viewer: Viewer, taskId: number, title: string): TaskSheet {
  needMember(viewer, 'change the checklist')
  needTask(engine, viewer, taskId)
  const { n } = engine.db.prepare('select coalesce(max(position), -1) + 1 as n from checklistItems where taskId = ?').get(taskId) as { n: number }
  engine.journal.change(actorOf(viewer), (write) => write.insert('checklistItems', { taskId, title, position: n }))
  return taskSheet(engine, viewer, taskId)
}

function needItem(engine: Engine, taskId: number, itemId: number): void {
  if (!engine.db.prepare('select 1 from checklistItems where id = ? and taskId = ?').get(itemId, taskId)) refuse('not-found', 'That checklist item is gone; someone removed it.')
}

export function editItem(engine: Engine, viewer: Viewer, taskId: number, itemId: number, patch: { title?: string; done?: boolean }): TaskSheet {
  needTask(engine, viewer, taskId)
  needItem(engine, taskId, itemId)
  if (patch.title !== undefined) needMember(viewer, 'change the checklist')
  engine.journal.change(actorOf(viewer), (write) =>
    write.update('checklistItems', itemId, { ...(patch.title !== undefined && { title: patch.title }), ...(patch.done !== undefined && { done: patch.done ? 1 : 0 }) }),
  )
  return taskSheet(engine, viewer, taskId)
}

export function removeItem(engine: Engine, viewer: Viewer, taskId: number, itemId: number): TaskSheet {
  needMember(viewer, 'change the checklist')
  needTask(engine, viewer, taskId)
  needItem(engine, taskId, itemId)
  engine.journal.change(actorOf(viewer), (write) => write.remove('checklistItems', itemId))
  return taskSheet(engine, viewer, taskId)
}
