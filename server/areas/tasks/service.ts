import { refuse } from '#core/refusal.ts'
import type { NewTask, TaskPatch, TaskSheet } from '#contract/tasks.ts'
import type { Engine } from '../../engine/services.ts'
import type { Writer } from '../../engine/journal.ts'
import { actorOf, isGuest, mayStructure, needMember, type Viewer } from '../../engine/viewer.ts'
import { attachmentsOf } from '../attachments/queries.ts'
import { fieldsOf } from '../fields/queries.ts'
import { firstOfKind, setOf, stateRow, statesOf } from '../states/queries.ts'
import { cleanRich, tellMentioned } from '../talk/rich.ts'
import { selectTasks, taskRow } from './queries.ts'
import { checkDates, insertTask, lastPosition, patchTask } from './write.ts'

/** Raised when someone else saved first: carries both versions, so that the person can choose. */
export class Clash extends Error {
  constructor(
    readonly mine: unknown,
    readonly theirs: unknown,
  ) {
    super('Someone else saved this task while you were editing it.')
  }
}

/** @throws Refusal `not-found`, the same whether it is missing or not theirs to see. */
export function needTask(engine: Engine, viewer: Viewer, id: number) {
  return (
    taskRow(engine, viewer, id) ??
    refuse('not-found', `There is no task ${id} here, or it is not shared with you.`)
  )
}

interface More {
  description: string
  datesFollow: number
  stateFollows: number
  mergedInto: number | null
  creatorId: number | null
  creator: string | null
}

/** Everything the task sheet shows. */
export function taskSheet(engine: Engine, viewer: Viewer, id: number): TaskSheet {
  const row = needTask(engine, viewer, id)
  const { db } = engine
  const more = db
    .prepare(
      'select t.description, t.datesFollow, t.stateFollows, t.mergedInto, t.creatorId, w.name as creator from tasks t left join people w on w.id = t.creatorId where t.id = ?',
    )
    .get(id) as More
  const comments = db
    .prepare(
      'select c.id, c.body, c.at, c.authorId, w.name from comments c left join people w on w.id = c.authorId where c.taskId = ? order by c.at, c.id',
    )
    .all(id) as {
    id: number
    body: string
    at: number
    authorId: number | null
    name: string | null
  }[]
  const parent = row.parentId === null ? undefined : taskRow(engine, viewer, row.parentId)
  const projectId = row.project?.id ?? null
  return {
    ...row,
    description: more.description,
    creator: more.creatorId === null ? null : { id: more.creatorId, name: more.creator! },
    datesFollow: more.datesFollow === 1,
    stateFollows: more.stateFollows === 1,
    mergedInto: more.mergedInto,
    discussion: comments.map((c) => ({
      id: c.id,
      body: c.body,
      at: c.at,
      author: c.authorId === null ? null : { id: c.authorId, name: c.name! },
      mine: c.authorId === viewer.id,
    })),
    followers: isGuest(viewer)
      ? []
      : (db
          .prepare(
            'select w.id, w.name from taskFollowers f join people w on w.id = f.personId where f.taskId = ? order by w.name',
          )
          .all(id) as { id: number; name: string }[]),
    attachments: attachmentsOf(engine, 'a.taskId = ?', [id]),
    parent: parent ? { id: parent.id, title: parent.title } : null,
    children: selectTasks(
      engine,
      viewer,
      't.parentId = ? and t.archivedAt is null',
      [id],
      't.position, t.id',
    ),
    states: statesOf(db, setOf(db, projectId)),
    customFields: fieldsOf(db, projectId),
    may: { edit: !isGuest(viewer), progress: true },
  }
}

function checkPeople(engine: Engine, ids: readonly number[], place: string): void {
  for (const id of ids) {
    const person = engine.db.prepare('select name, active from people where id = ?').get(id) as
      { name: string; active: number } | undefined
    if (!person) refuse('no-such-person', `There is no person ${id}.`, place)
    if (!person.active)
      refuse('person-left', `${person.name} has left; choose someone who is here.`, place)
  }
}

/** What guests may change of what was handed to them: how far it is. */
const GUEST_FIELDS: readonly (keyof TaskPatch)[] = ['state', 'stateId']

/** What an edit points at must be there and fit together; some states are only for some people. */
export function checkPatch(
  engine: Engine,
  viewer: Viewer,
  patch: TaskPatch,
  row: { id: number; projectId: number | null; stateId: number | null } | null,
): void {
  const { db } = engine
  if (
    isGuest(viewer) &&
    Object.keys(patch).some((field) => !GUEST_FIELDS.includes(field as keyof TaskPatch))
  )
    refuse('forbidden', 'Guests may change the state of a task and comment on it, nothing else.')
  const now = row
    ? (
        db.prepare('select personId from taskAssignees where taskId = ?').all(row.id) as {
          personId: number
        }[]
      ).map((a) => a.personId)
    : []
  checkPeople(
    engine,
    (patch.assignees ?? []).filter((id) => !now.includes(id)),
    'assignees',
  )
  checkPeople(engine, patch.followers ?? [], 'followers')
  const exists = (table: string, id: number) =>
    db.prepare(`select 1 from ${table} where id = ?`).get(id) !== undefined
  for (const tag of patch.tags ?? [])
    if (!exists('tags', tag)) refuse('tag-gone', 'That tag was removed in the meantime.', 'tags')
  if (patch.clientId && !exists('clients', patch.clientId))
    refuse('no-such-client', `There is no client ${patch.clientId}.`, 'clientId')
  if (patch.projectId && !exists('projects', patch.projectId))
    refuse('no-such-project', `There is no project ${patch.projectId}.`, 'projectId')
  const projectId = patch.projectId === undefined ? (row?.projectId ?? null) : patch.projectId
  if (patch.phaseId) {
    const phase = db.prepare('select projectId from phases where id = ?').get(patch.phaseId) as
      { projectId: number } | undefined
    if (!phase || phase.projectId !== projectId)
      refuse('no-such-phase', 'That phase is not part of the project.', 'phaseId')
  }
  if (patch.parentId) {
    if (!taskRow(engine, viewer, patch.parentId))
      refuse('no-such-task', `There is no task ${patch.parentId} to put it under.`, 'parentId')
    for (
      let up: number | null = patch.parentId;
      up !== null;
      up = (
        db.prepare('select parentId from tasks where id = ?').get(up) as { parentId: number | null }
      ).parentId
    )
      if (up === row?.id)
        refuse(
          'circle',
          'A task cannot stand under itself or under one of its own subtasks.',
          'parentId',
        )
  }
  if (patch.stateId !== undefined || patch.state !== undefined)
    checkStateFor(engine, viewer, patch, row, projectId)
}

function checkStateFor(
  engine: Engine,
  viewer: Viewer,
  patch: TaskPatch,
  row: { stateId: number | null } | null,
  projectId: number | null,
): void {
  const { db } = engine
  const state =
    patch.stateId !== undefined
      ? stateRow(db, patch.stateId)
      : firstOfKind(db, setOf(db, projectId), patch.state!)
  if (!state || state.id === row?.stateId || state.only === 'anyone' || mayStructure(viewer)) return
  const lead =
    projectId === null
      ? null
      : (
          db.prepare('select leadId from projects where id = ?').get(projectId) as {
            leadId: number | null
          }
        ).leadId
  if (state.only === 'lead' && lead === viewer.id) return
  refuse(
    'forbidden',
    state.only === 'lead'
      ? `Only the project’s lead or a manager may set “${state.name}”.`
      : `Only a manager may set “${state.name}”.`,
    'state',
  )
}

/**
 * Where everyone must finish, closing says that this person did; the task closes with the last of
 * them.
 */
function partOf(
  engine: Engine,
  write: Writer,
  viewer: Viewer,
  id: number,
  patch: TaskPatch,
): TaskPatch {
  const { db } = engine
  const kind = patch.stateId !== undefined ? stateRow(db, patch.stateId)?.kind : patch.state
  const task = db.prepare('select doneBy, state, closedAt from tasks where id = ?').get(id) as {
    doneBy: string
    state: string
    closedAt: number | null
  }
  if (kind === undefined || (patch.doneBy ?? task.doneBy) !== 'all') return patch
  const parts = db
    .prepare('select id, personId, doneAt from taskAssignees where taskId = ?')
    .all(id) as { id: number; personId: number; doneAt: number | null }[]
  if (kind !== 'done') {
    if (task.closedAt !== null)
      for (const part of parts) write.update('taskAssignees', part.id, { doneAt: null })
    return patch
  }
  const own = parts.find((p) => p.personId === viewer.id)
  const others = parts.some((p) => p.personId !== viewer.id && p.doneAt === null)
  if (own && others) {
    write.update('taskAssignees', own.id, { doneAt: own.doneAt ?? write.at })
    const { state: _, stateId: __, ...rest } = patch
    return task.state === 'not-started' ? { ...rest, state: 'under-way' } : rest
  }
  for (const part of parts)
    if (part.doneAt === null) write.update('taskAssignees', part.id, { doneAt: write.at })
  return patch
}

/** An edit inside a change that is already open: checked, then written. */
export function applyEdit(
  engine: Engine,
  write: Writer,
  viewer: Viewer,
  id: number,
  patch: TaskPatch,
): void {
  const row = engine.db
    .prepare('select id, projectId, stateId, description, datesFollow from tasks where id = ?')
    .get(id) as {
    id: number
    projectId: number | null
    stateId: number | null
    description: string
    datesFollow: number
  }
  checkPatch(engine, viewer, patch, row)
  if (
    row.datesFollow &&
    patch.datesFollow === undefined &&
    (patch.start !== undefined || patch.due !== undefined)
  )
    refuse(
      'dates-follow',
      'The dates of this task follow its subtasks; switch that off to set them by hand.',
      'due',
    )
  patchTask(engine, write, id, partOf(engine, write, viewer, id, patch))
  if (patch.description !== undefined)
    tellMentioned(engine, write, id, cleanRich(patch.description), row.description)
}

/**
 * Saves an edit of a task, if it still is at the version the editor saw.
 * @throws Clash with both versions; Refusal for what is not allowed or not possible.
 */
export function editTask(
  engine: Engine,
  viewer: Viewer,
  id: number,
  patch: TaskPatch,
  seenVersion: number | null,
): TaskSheet {
  engine.journal.change(actorOf(viewer), (write) => {
    const row = needTask(engine, viewer, id)
    if (seenVersion !== null && seenVersion !== row.version)
      throw new Clash(patch, taskSheet(engine, viewer, id))
    applyEdit(engine, write, viewer, id, patch)
  })
  return taskSheet(engine, viewer, id)
}

/** Makes a task by hand. */
export function makeTask(engine: Engine, viewer: Viewer, task: NewTask): TaskSheet {
  needMember(viewer, 'make tasks')
  checkDates(task.start, task.due, task.dueTime)
  const parent = task.parentId
    ? (engine.db
        .prepare('select projectId, phaseId, clientId from tasks where id = ?')
        .get(task.parentId) as Pick<NewTask, 'projectId' | 'phaseId' | 'clientId'>)
    : null
  const whole: NewTask = { ...parent, ...task }
  checkPatch(engine, viewer, whole, null)
  const id = engine.journal.change(actorOf(viewer), (write) => {
    const made = insertTask(engine, write, {
      ...whole,
      creatorId: viewer.id,
      position: lastPosition(engine, whole.projectId ?? null) + 1,
    })
    if (whole.description) tellMentioned(engine, write, made, cleanRich(whole.description))
    return made
  })
  return taskSheet(engine, viewer, id)
}

export function addComment(
  engine: Engine,
  viewer: Viewer,
  taskId: number,
  body: string,
): TaskSheet {
  needTask(engine, viewer, taskId)
  const clean = cleanRich(body) || refuse('empty', 'There is nothing in this comment.', 'body')
  engine.journal.change(actorOf(viewer), (write) => {
    write.insert('comments', { taskId, authorId: viewer.id, body: clean, at: write.at })
    tellMentioned(engine, write, taskId, clean)
  })
  return taskSheet(engine, viewer, taskId)
}

/** Rewords one's own comment; an empty one is taken away. */
export function editComment(
  engine: Engine,
  viewer: Viewer,
  taskId: number,
  commentId: number,
  body: string,
): TaskSheet {
  needTask(engine, viewer, taskId)
  const row = engine.db
    .prepare('select authorId, body from comments where id = ? and taskId = ?')
    .get(commentId, taskId) as { authorId: number | null; body: string } | undefined
  if (!row) refuse('not-found', 'That comment is gone; someone removed it.')
  if (row.authorId !== viewer.id) refuse('forbidden', 'Only who wrote a comment may change it.')
  const clean = cleanRich(body)
  engine.journal.change(actorOf(viewer), (write) => {
    if (!clean) return write.remove('comments', commentId)
    write.update('comments', commentId, { body: clean })
    tellMentioned(engine, write, taskId, clean, row.body)
  })
  return taskSheet(engine, viewer, taskId)
}

export function addItem(engine: Engine, viewer: Viewer, taskId: number, title: string): TaskSheet {
  needMember(viewer, 'change the checklist')
  needTask(engine, viewer, taskId)
  const { n } = engine.db
    .prepare('select coalesce(max(position), -1) + 1 as n from checklistItems where taskId = ?')
    .get(taskId) as { n: number }
  engine.journal.change(actorOf(viewer), (write) =>
    write.insert('checklistItems', { taskId, title, position: n }),
  )
  return taskSheet(engine, viewer, taskId)
}

function needItem(engine: Engine, taskId: number, itemId: number): void {
  if (
    !engine.db
      .prepare('select 1 from checklistItems where id = ? and taskId = ?')
      .get(itemId, taskId)
  )
    refuse('not-found', 'That checklist item is gone; someone removed it.')
}

export function editItem(
  engine: Engine,
  viewer: Viewer,
  taskId: number,
  itemId: number,
  patch: { title?: string; done?: boolean },
): TaskSheet {
  needTask(engine, viewer, taskId)
  needItem(engine, taskId, itemId)
  if (patch.title !== undefined) needMember(viewer, 'change the checklist')
  engine.journal.change(actorOf(viewer), (write) =>
    write.update('checklistItems', itemId, {
      ...(patch.title !== undefined && { title: patch.title }),
      ...(patch.done !== undefined && { done: patch.done ? 1 : 0 }),
    }),
  )
  return taskSheet(engine, viewer, taskId)
}

export function removeItem(
  engine: Engine,
  viewer: Viewer,
  taskId: number,
  itemId: number,
): TaskSheet {
  needMember(viewer, 'change the checklist')
  needTask(engine, viewer, taskId)
  needItem(engine, taskId, itemId)
  engine.journal.change(actorOf(viewer), (write) => write.remove('checklistItems', itemId))
  return taskSheet(engine, viewer, taskId)
}
