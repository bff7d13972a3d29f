import type { TaskId } from '#core/brands.ts'
import { remindersOn } from '../reminders/service.ts'
import { reaches } from '#core/access/reach.ts'
import { refuse } from '#core/refusal.ts'
import type { NewTask, TaskPatch, TaskRow, TaskSheet } from '#contract/tasks.ts'
import type { State } from '#contract/words.ts'
import type { Engine } from '../../engine/services.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import { actorOf, isGuest, sightOf, type Viewer } from '../../engine/viewer.ts'
import { attachmentsOfTask } from '../attachments/queries.ts'
import { levelOn, seesThatTask } from '../access/levels.ts'
import { fieldsOf, readsField } from '../fields/queries.ts'
import { stateRow, statesOf } from '../states/queries.ts'
import { cleanRich, tellMentioned } from '../talk/rich.ts'
import { checkPatch } from './check.ts'
import { Clash } from './clash.ts'
import {
  assignmentsOf,
  contextOf,
  discussionOf,
  followersOf,
  homeOf,
  sheetOf,
  subtasksOf,
  type TaskContext,
} from './queries.ts'
import { taskRow, taskRows } from './rows.ts'
import { setFor } from './standing.ts'
import { checkDates, insertTask, lastPosition, needContext, patchTask } from './write.ts'

/** A task's absence, said the same whether it is missing or not theirs to see. */
export const noTask = (id: TaskId): never =>
  refuse('not-found', `There is no task ${id} here, or it is not shared with you.`)

/** @throws Refusal `not-found`, the same whether it is missing or not theirs to see. */
export const needTask = (engine: Engine, viewer: Viewer, id: TaskId): TaskRow =>
  taskRow(engine, viewer, id) ?? noTask(id)

/** Everything the task sheet shows. @throws Refusal `not-found` */
export function taskSheet(engine: Engine, viewer: Viewer, id: TaskId): TaskSheet {
  const { reader } = engine
  const sight = sightOf(viewer)
  const [row, parent] = sheetRows(engine, viewer, id)
  const more = sheetOf.get(reader, { id, sight }) ?? noTask(id)
  const home = row.project && (homeOf.get(reader, { id: row.project.id }) ?? null)
  return {
    ...row,
    ...more,
    discussion: discussionOf
      .all(reader, { id, sight })
      .map((comment) => ({ ...comment, mine: comment.author?.id === viewer.id })),
    followers: isGuest(viewer) ? [] : followersOf.all(reader, { id }),
    attachments: attachmentsOfTask(reader, sight, id),
    parent: parent ? { id: parent.id, title: parent.title } : null,
    children: taskRows(
      engine,
      viewer,
      subtasksOf.all(reader, { id, sight }).map((child) => child.id),
    ),
    states: statesOf(reader, setFor(home)),
    customFields: fieldsOf(reader, home).filter(({ readers }) => readsField(viewer, readers)),
    reminders: remindersOn(engine, viewer, id),
    may: mayOn(engine, viewer, id),
  }
}

/** What the viewer may do with a task they see. */
function mayOn(engine: Engine, viewer: Viewer, id: TaskId): TaskSheet['may'] {
  const has = levelOn(engine, viewer, id)
  return {
    edit: reaches(has, 'edit'),
    give: reaches(has, 'edit') && !isGuest(viewer),
    progress: reaches(has, 'work'),
    comment: reaches(has, 'comment'),
  }
}

/** The row of a task and, where there is one to see, of its parent. */
function sheetRows(engine: Engine, viewer: Viewer, id: TaskId): [TaskRow, TaskRow | undefined] {
  const row = needTask(engine, viewer, id)
  return [row, row.parentId === null ? undefined : taskRow(engine, viewer, row.parentId)]
}

/** Where everyone must finish, closing says that this person did; the last of them closes it. */
function partOf(
  engine: Engine,
  write: Writer,
  viewer: Viewer,
  { context: { task }, patch }: { context: TaskContext; patch: TaskPatch },
): TaskPatch {
  const kind: State | undefined =
    patch.stateId !== undefined ? stateRow(engine.reader, patch.stateId)?.kind : patch.state
  if (kind === undefined || (patch.doneBy ?? task.doneBy) !== 'all') return patch
  const parts = assignmentsOf.all(engine.reader, { id: task.id })
  const finish = (these: typeof parts, doneAt: number | null) => {
    for (const part of these) write.update('taskAssignees', part.id, { doneAt })
  }
  const unfinished = parts.filter((part) => part.doneAt === null)
  if (kind !== 'done') {
    if (task.closedAt !== null) finish(parts, null)
    return patch
  }
  const own = parts.some((part) => part.personId === viewer.id)
  if (!own || unfinished.every((part) => part.personId === viewer.id)) {
    finish(unfinished, write.at)
    return patch
  }
  finish(
    unfinished.filter((part) => part.personId === viewer.id),
    write.at,
  )
  const { state: _, stateId: __, ...rest } = patch
  return task.state === 'not-started' ? { ...rest, state: 'under-way' } : rest
}

/** An edit inside a change that is already open: checked, then written. */
export function applyEdit(
  engine: Engine,
  write: Writer,
  viewer: Viewer,
  { context, patch }: { context: TaskContext; patch: TaskPatch },
): void {
  const { task } = context
  checkPatch(engine, viewer, patch, context)
  if (
    task.datesFollow &&
    patch.datesFollow === undefined &&
    (patch.start !== undefined || patch.due !== undefined)
  )
    refuse(
      'dates-follow',
      'The dates of this task follow its subtasks; switch that off to set them by hand.',
      'due',
    )
  patchTask(engine, write, context, partOf(engine, write, viewer, { context, patch }))
  if (patch.description !== undefined)
    tellMentioned(engine, write, task.id, cleanRich(patch.description), task.description)
}

/**
 * Saves an edit of a task, if it still is at the version the editor saw.
 * @throws Clash with both versions; Refusal for what is not allowed or not possible.
 */
export function editTask(
  engine: Engine,
  viewer: Viewer,
  id: TaskId,
  { patch, seen }: { patch: TaskPatch; seen: number | null },
): Changed<TaskSheet> {
  const { change } = engine.journal.change(actorOf(viewer), (write) => {
    needSight(engine, viewer, id)
    const context = needContext(engine, id)
    if (seen !== null && seen !== context.task.version)
      throw new Clash(patch, taskSheet(engine, viewer, id))
    applyEdit(engine, write, viewer, { context, patch })
  })
  return { result: taskSheet(engine, viewer, id), change }
}

/** Without its row: for what is only to be written. @throws Refusal `not-found` */
export function needSight(engine: Engine, viewer: Viewer, id: TaskId): void {
  if (!sheetOf.get(engine.reader, { id, sight: sightOf(viewer) })) noTask(id)
}

/** Makes a task by hand. A subtask stands where its parent does, unless it says otherwise. */
export function makeTask(engine: Engine, viewer: Viewer, task: NewTask): Changed<TaskSheet> {
  checkDates(task)
  const parent =
    task.parentId && seesThatTask(engine, viewer, task.parentId)
      ? contextOf.get(engine.reader, { id: task.parentId })?.task
      : null
  const whole: NewTask = {
    ...(parent && {
      projectId: parent.projectId,
      phaseId: parent.phaseId,
      clientId: parent.clientId,
    }),
    ...task,
  }
  checkPatch(engine, viewer, whole, null)
  const { result: id, change } = engine.journal.change(actorOf(viewer), (write) => {
    const position = lastPosition(engine, whole.projectId ?? null) + 1
    const made = insertTask(engine, write, { ...whole, creatorId: viewer.id, position })
    if (whole.description) tellMentioned(engine, write, made, cleanRich(whole.description))
    return made
  })
  return { result: taskSheet(engine, viewer, id), change }
}
