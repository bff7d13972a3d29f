import type {
  IsoDate,
  LocalStamp,
  LocalTime,
  PersonId,
  ProjectId,
  SeriesId,
  TaskId,
} from '#core/brands.ts'
import { localTime, workDay } from '#core/calendar/dates.ts'
import { refuse } from '#core/refusal.ts'
import { sayDate } from '#core/text/speak.ts'
import type { StateRow } from '#contract/fields.ts'
import type { NewTask, TaskPatch } from '#contract/tasks.ts'
import type { State } from '#contract/words.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { cleanRich } from '../talk/rich.ts'
import { plainColumns } from './fields.ts'
import { setAssignees, setFollowers, setTags } from './links.ts'
import {
  assignmentsOf,
  childrenOf,
  contextOf,
  estimatesOf,
  homeOf,
  lastPlaceIn,
  type Home,
  type TaskContext,
  type TaskRecord,
} from './queries.ts'
import { isClosed, resolveState, setFor } from './standing.ts'
import { statesOf } from '../states/queries.ts'
import { setFields } from './values.ts'

/** Writes of tasks that people, rules, series and bulk changes share; callers asked who may. */

/** @throws Error where there is no such task: the caller has not looked. */
export function needContext(engine: Engine, id: TaskId): TaskContext {
  const found = contextOf.get(engine.reader, { id })
  if (!found) throw new Error(`There is no task ${id}.`)
  return found
}

interface Dates {
  readonly start: IsoDate | null
  readonly due: IsoDate | null
  readonly dueTime: LocalTime | null
}
const UNDATED: Dates = { start: null, due: null, dueTime: null }
type DatePatch = Pick<TaskPatch, 'start' | 'due' | 'dueTime'>

/** The dates of a task after an edit; a time goes with its date. @throws Refusal `bad-date` */
function datesAfter(patch: DatePatch, before: Dates = UNDATED): Dates {
  const { start, due, dueTime } = patch
  const day = due === undefined ? before.due : due ? workDay(due, 'due') : null
  const time =
    dueTime === undefined ? before.dueTime : dueTime ? localTime(dueTime, 'dueTime') : null
  return {
    start: start === undefined ? before.start : start ? workDay(start, 'start') : null,
    due: day,
    dueTime: day ? time : null,
  }
}

/** What a person says of a task's dates fits together. @throws Refusal `start-after-due`, … */
export function checkDates({ start, due, dueTime }: DatePatch): void {
  if (start && due && start > due)
    refuse(
      'start-after-due',
      `Start (${sayDate(start)}) is after Due (${sayDate(due)}); move one of them.`,
      'start',
    )
  if (dueTime && !due)
    refuse('time-without-date', 'A time needs a due date; set the date first.', 'dueTime')
}
const saysDates = ({ start, due, dueTime }: DatePatch): boolean =>
  start !== undefined || due !== undefined || dueTime !== undefined

/** An edit of a task, by a person or by what happens of itself. */
export type TaskEdit = TaskPatch & { position?: number; mergedInto?: TaskId }

/** Columns that an edit names as they are. */
const PLAIN = ['title', 'priority', 'estimate', 'clientId', 'doneBy', 'phaseId'] as const
const MORE = ['position', 'mergedInto', 'parentId', 'datesFollow', 'stateFollows'] as const

function namedColumns(patch: TaskEdit): Partial<TaskRecord> {
  const columns: Record<string, unknown> = {}
  for (const name of [...PLAIN, ...MORE]) if (patch[name] !== undefined) columns[name] = patch[name]
  return columns
}

/** People, tags and fields of an edit; answers whether any of them changed. */
function writeLinks(
  engine: Engine,
  write: Writer,
  { id, home }: { id: TaskId; home: Home | null },
  patch: TaskEdit,
): boolean {
  const { assignees, estimates, followers, tags, fields } = patch
  const changes = [
    assignees !== undefined && setAssignees(engine, write, id, assignees),
    followers !== undefined && setFollowers(engine, write, id, followers),
    tags !== undefined && setTags(engine, write, id, tags),
    fields !== undefined && setFields(engine, write, { taskId: id, home }, fields),
  ]
  if (estimates)
    for (const part of assignmentsOf.all(engine.reader, { id })) {
      const estimate = estimates[part.personId]
      if (estimate !== undefined) changes.push(write.update('taskAssignees', part.id, { estimate }))
    }
  return changes.some(Boolean)
}

/** Where an edit puts a task: its project afterwards, and the state it takes. */
function placeAfter(engine: Engine, { task, project }: TaskContext, patch: TaskEdit) {
  const moved = patch.projectId !== undefined && patch.projectId !== task.projectId
  const home = !moved
    ? project
    : patch.projectId
      ? (homeOf.get(engine.reader, { id: patch.projectId }) ?? null)
      : null
  const wish =
    patch.stateId !== undefined || patch.state !== undefined
      ? patch
      : moved && task.stateId !== null
        ? { stateId: task.stateId }
        : null
  const state = wish && resolveState(engine.reader, home, wish, task.stateId)
  return { moved, home, state }
}

/** The columns of a state that a task takes; closing is dated once. */
function stateColumns(
  task: TaskRecord,
  state: StateRow | null,
  at: number,
): Pick<TaskRecord, 'state' | 'stateId' | 'closedAt'> {
  if (!state) return { state: task.state, stateId: task.stateId, closedAt: task.closedAt }
  const closedAt = isClosed(state.kind) ? (task.closedAt ?? at) : null
  return { state: state.kind, stateId: state.id, closedAt }
}
function archiveColumn(task: TaskRecord, { archived }: TaskEdit, at: number): Partial<TaskRecord> {
  if (archived === undefined) return {}
  return { archivedAt: archived ? (task.archivedAt ?? at) : null }
}
/** The first date that was ever promised, and how often it was put off since. */
function promised(task: TaskRecord, due: IsoDate | null): Partial<TaskRecord> {
  const later = task.due !== null && due !== null && due > task.due
  return {
    firstDue: task.firstDue ?? due,
    ...(later && { postponed: task.postponed + 1 }),
  }
}

/** Values of fields that are a column and nothing more. */
function plainValues({ values = {} }: TaskEdit): Partial<TaskRecord> {
  const columns: Record<string, unknown> = {}
  for (const [name, column] of plainColumns())
    if (values[name] !== undefined) columns[column.name] = values[name]
  return columns
}

/** What is closed, or due at another time, stands on no rung any more. */
const isOffLadder = (task: TaskRecord, { due, dueTime, closedAt }: Partial<TaskRecord>): boolean =>
  due !== task.due || dueTime !== task.dueTime || closedAt !== null

/** The columns of a task after an edit, with those that follow from others. */
function columnsAfter(
  task: TaskRecord,
  patch: TaskEdit,
  { place, at }: { place: ReturnType<typeof placeAfter>; at: number },
): Partial<TaskRecord> {
  const dates = datesAfter(patch, task)
  if (saysDates(patch)) checkDates(dates)
  const columns: Partial<TaskRecord> = {
    ...stateColumns(task, place.state, at),
    ...namedColumns(patch),
    ...dates,
    // A phase belongs to its project: without a new one the task stands in none.
    ...(place.moved && { projectId: place.home?.id ?? null, phaseId: patch.phaseId ?? null }),
    ...archiveColumn(task, patch, at),
    ...(patch.description !== undefined && { description: cleanRich(patch.description) }),
  }
  return {
    ...columns,
    ...promised(task, dates.due),
    ...(patch.reviewed && { reviewedAt: at }),
    ...plainValues(patch),
    ...(isOffLadder(task, columns) && { rung: 0, rungOf: null }),
  }
}

/**
 * Writes an edit of a task with the columns that follow from others: closing, the named state,
 * standing off the ladder when a due moves, and what parents take over from their subtasks.
 */
export function patchTask(
  engine: Engine,
  write: Writer,
  context: TaskContext,
  patch: TaskEdit,
): void {
  const { task } = context
  const place = placeAfter(engine, context, patch)
  const projectId = place.home?.id ?? null
  const touched = writeLinks(engine, write, { id: task.id, home: place.home }, patch)
  const columns: Partial<TaskRecord> = {
    ...columnsAfter(task, patch, { place, at: write.at }),
    ...partsEstimate(engine, task.id, patch),
  }
  if (touched || differs(task, columns))
    write.update('tasks', task, { ...columns, version: task.version + 1 })
  if (place.moved)
    for (const child of childrenOf.all(engine.reader, { id: task.id }))
      patchTask(engine, write, needContext(engine, child.id), { projectId })
  for (const parent of new Set([task.parentId, patch.parentId ?? null]))
    if (parent !== null) followSubtasks(engine, write, parent)
  if (patch.datesFollow || patch.stateFollows) followSubtasks(engine, write, task.id)
}

const differs = (task: TaskRecord, columns: Partial<TaskRecord>): boolean => {
  const now: Readonly<Record<string, unknown>> = task
  return Object.entries(columns).some(([name, value]) => value !== now[name])
}

/** The estimate of a task that several share is the sum of their parts, once they are named. */
function partsEstimate(engine: Engine, id: TaskId, patch: TaskEdit): Partial<TaskRecord> {
  if (!patch.estimates || patch.estimate !== undefined) return {}
  const parts = estimatesOf.get(engine.reader, { id })?.sum ?? null
  return parts === null ? {} : { estimate: parts }
}

/** The dates that a parent takes over: from the first begin to the last due of what counts. */
function datesOfChildren(children: readonly Pick<TaskRecord, 'start' | 'due' | 'state'>[]) {
  const counting = children.filter((child) => child.state !== 'dropped')
  const begins = counting.flatMap((child) => child.start ?? child.due ?? []).sort()
  const due =
    counting
      .flatMap((child) => child.due ?? [])
      .sort()
      .at(-1) ?? null
  const [first] = begins
  return { start: first !== undefined && (due === null || first <= due) ? first : null, due }
}

/** The kind of state that a parent takes over. */
function stateOfChildren(kinds: readonly State[]): State {
  if (kinds.every((kind) => kind === 'dropped')) return 'dropped'
  if (kinds.every(isClosed)) return 'done'
  if (kinds.every((kind) => kind === 'not-started' || kind === 'dropped')) return 'not-started'
  return kinds.every((kind) => kind === 'waiting' || kind === 'dropped') ? 'waiting' : 'under-way'
}

/** Brings a parent in line with its subtasks, where it is to follow them, and so on upward. */
function followSubtasks(engine: Engine, write: Writer, id: TaskId): void {
  const context = contextOf.get(engine.reader, { id })
  if (!context) return
  const { datesFollow, stateFollows, start, due, state } = context.task
  if (!datesFollow && !stateFollows) return
  const children = childrenOf.all(engine.reader, { id }).filter((c) => c.archivedAt === null)
  if (children.length === 0) return
  const patch: TaskPatch = {}
  if (datesFollow) {
    const theirs = datesOfChildren(children)
    if (theirs.start !== start) patch.start = theirs.start
    if (theirs.due !== due) patch.due = theirs.due
  }
  if (stateFollows) {
    const theirs = stateOfChildren(children.map((child) => child.state))
    // A state that is kept for some is never come to by itself.
    const open = statesOf(engine.reader, setFor(context.project)).find(
      ({ kind, only }) => kind === theirs && only === 'anyone',
    )
    if (theirs !== state && open) patch.stateId = open.id
  }
  if (Object.keys(patch).length) patchTask(engine, write, context, patch)
}

/** The last place by hand in a project; tasks of no project have none. */
export const lastPosition = (engine: Engine, project: ProjectId | null): number =>
  project === null ? -1 : (lastPlaceIn.get(engine.reader, { project })?.position ?? -1)

export type InsertTask = NewTask & {
  creatorId?: PersonId | null
  seriesId?: SeriesId | null
  occurrence?: LocalStamp | null
  role?: string | null
  position?: number
}

/** Columns of a new task that are written as they are given. */
const GIVEN = [
  'title',
  'priority',
  'estimate',
  'clientId',
  'doneBy',
  'phaseId',
  'parentId',
  'creatorId',
  'seriesId',
  'occurrence',
  'role',
  'position',
  'datesFollow',
  'stateFollows',
] as const

/** People, tags and checklist of a new task. */
function insertLinks(write: Writer, taskId: TaskId, task: InsertTask): void {
  const { assignees = [], estimates = {}, followers = [], tags = [], checklist = [] } = task
  for (const personId of assignees)
    write.insert('taskAssignees', { taskId, personId, estimate: estimates[personId] ?? null })
  for (const personId of followers) write.insert('taskFollowers', { taskId, personId })
  for (const tagId of tags) write.insert('taskTags', { taskId, tagId })
  for (const [position, title] of checklist.entries())
    write.insert('checklistItems', { taskId, title, position })
}

function givenColumns(task: InsertTask): Pick<InsertTask, (typeof GIVEN)[number]> {
  const columns: Record<string, unknown> = {}
  for (const name of GIVEN) if (task[name] !== undefined) columns[name] = task[name]
  return { title: task.title, ...columns }
}

/**
 * Writes a task and what belongs to it. `description` is rich text; it is made safe here. Whoever
 * makes many in one project hands its `home` over.
 */
export function insertTask(
  engine: Engine,
  write: Writer,
  task: InsertTask,
  home: Home | null = task.projectId
    ? (homeOf.get(engine.reader, { id: task.projectId }) ?? null)
    : null,
): TaskId {
  const stand = resolveState(engine.reader, home, task, null)
  const dates = datesAfter(task)
  const id = write.insert('tasks', {
    ...givenColumns(task),
    ...plainValues(task),
    ...dates,
    firstDue: dates.due,
    projectId: task.projectId ?? null,
    description: task.description === undefined ? '' : cleanRich(task.description),
    state: stand.kind,
    stateId: stand.id,
    createdAt: write.at,
    closedAt: isClosed(stand.kind) ? write.at : null,
    archivedAt: task.archived ? write.at : null,
  })
  insertLinks(write, id, task)
  if (task.fields) setFields(engine, write, { taskId: id, home }, task.fields)
  if (task.parentId) followSubtasks(engine, write, task.parentId)
  return id
}
