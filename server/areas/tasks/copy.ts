import type { IsoDate, PersonId, PhaseId, ProjectId, TaskId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import type { BulkDone, TaskSheet } from '#contract/tasks.ts'
import type { Copies } from '#contract/words.ts'
import type { Engine } from '../../engine/services.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Large, Steps } from '../../engine/portions.ts'
import { actorOf, needMember, type Viewer } from '../../engine/viewer.ts'
import { levelAt, needLevel, needOnTask } from '../access/levels.ts'
import { countedLarge } from '../journal/counted.ts'
import { needOwnContacts, peopleUnder } from '../people/contacts.ts'
import { checkNotUnder } from './check.ts'
import { nextItemPlace } from './checklist.ts'
import { setFollowers, setTags } from './links.ts'
import {
  activeAssignmentsOf,
  attachmentsOn,
  belowTask,
  childrenOf,
  commentIdsOf,
  followsOf,
  itemsOf,
  taggingsOf,
  valuesOf,
  type TaskRecord,
} from './queries.ts'
import { needTask, taskSheet } from './service.ts'
import { insertTask, needContext, patchTask, type InsertTask } from './write.ts'

/** What a copy may be given that its original does not have. */
export interface CopyInto {
  readonly title?: string
  readonly projectId?: ProjectId | null
  readonly phaseId?: PhaseId | null
  readonly parentId?: TaskId | null
  readonly position?: number
  readonly creatorId: PersonId | null
  /** How a date becomes the copy's. */
  readonly date?: (date: IsoDate) => IsoDate
  /** What is closed below it is left. */
  readonly openOnly?: boolean
}

/** The columns of a copy: where it goes, and what of the original it takes. */
function copied(row: TaskRecord, has: (what: Copies) => boolean, into: CopyInto): InsertTask {
  const date = (day: IsoDate | null) => day && (into.date?.(day) ?? day)
  return {
    title: into.title ?? row.title,
    priority: row.priority,
    clientId: row.clientId,
    projectId: into.projectId === undefined ? row.projectId : into.projectId,
    phaseId: into.phaseId === undefined ? row.phaseId : into.phaseId,
    parentId: into.parentId === undefined ? row.parentId : into.parentId,
    position: into.position ?? row.position,
    estimate: row.estimate,
    doneBy: row.doneBy,
    datesFollow: row.datesFollow && has('subtasks'),
    stateFollows: row.stateFollows && has('subtasks'),
    role: row.role,
    creatorId: into.creatorId,
    ...(has('description') && { description: row.description }),
    ...(has('dates') && { start: date(row.start), due: date(row.due), dueTime: row.dueTime }),
  }
}

/** The people, tags and steps that a copy takes. */
function companions({ reader }: Engine, id: TaskId, has: (what: Copies) => boolean) {
  const people = has('assignees') ? activeAssignmentsOf.all(reader, { id }) : []
  return {
    assignees: people.map((p) => p.personId),
    estimates: Object.fromEntries(people.map((p) => [p.personId, p.estimate])),
    followers: has('followers') ? followsOf.all(reader, { id }).map((f) => f.personId) : [],
    tags: has('tags') ? taggingsOf.all(reader, { id }).map((t) => t.tagId) : [],
    checklist: has('checklist') ? itemsOf.all(reader, { id }).map((i) => i.title) : [],
  }
}

/** What is copied of a task, and what of it. */
interface Original {
  readonly id: TaskId
  readonly take: readonly Copies[]
}
/** What a task that takes after another begins with: of what is chosen, what stands in its own row. */
export function takenFrom(engine: Engine, { id, take }: Original): Partial<InsertTask> {
  const has = (what: Copies) => take.includes(what)
  const all = companions(engine, id, has)
  return {
    ...(has('description') && { description: needContext(engine, id).task.description }),
    ...(has('assignees') && { assignees: all.assignees, estimates: all.estimates }),
    ...(has('followers') && { followers: all.followers }),
    ...(has('tags') && { tags: all.tags }),
    ...(has('checklist') && { checklist: all.checklist }),
  }
}

/** Gives a task what hangs on another: values of fields, files, subtasks. */
export function* takeAlong(
  engine: Engine,
  write: Writer,
  { id, take }: Original,
  into: Omit<CopyInto, 'title' | 'position'> & { readonly parentId: TaskId },
): Steps<void> {
  const { reader } = engine
  const made = into.parentId
  const has = (what: Copies) => take.includes(what)
  if (has('fields'))
    for (const value of valuesOf.all(reader, { id }))
      write.insert('fieldValues', { ...value, taskId: made })
  if (has('files'))
    for (const { id: _, ...file } of attachmentsOn.all(reader, { id }))
      write.insert('attachments', { ...file, taskId: made })
  yield
  if (has('subtasks'))
    for (const child of childrenOf.all(reader, { id })) {
      if (child.archivedAt !== null || (into.openOnly && child.closedAt !== null)) continue
      yield* copyTask(engine, write, { id: child.id, take }, into)
    }
}

/**
 * Copies a task with what is chosen, its subtasks below it; answers the copy's id. Never taken:
 * comments, journal, state.
 */
export function* copyTask(
  engine: Engine,
  write: Writer,
  { id, take }: Original,
  into: CopyInto,
): Steps<TaskId> {
  const { task } = needContext(engine, id)
  const has = (what: Copies) => take.includes(what)
  const made = insertTask(engine, write, {
    ...copied(task, has, into),
    ...companions(engine, id, has),
  })
  const { title: _, position: __, ...rest } = into
  yield* takeAlong(engine, write, { id, take }, { ...rest, parentId: made })
  return made
}

/** A copy beside the original. */
export function duplicateTask(
  engine: Engine,
  viewer: Viewer,
  id: TaskId,
  body: { title: string; take: readonly Copies[] },
): Large<TaskSheet> {
  needMember(viewer, 'copy tasks')
  needTask(engine, viewer, id)
  const { projectId, phaseId, clientId } = needContext(engine, id).task
  const at = levelAt(engine, viewer, { projectId, phaseId, clientId })
  needLevel(at, 'edit', 'put a copy beside it')
  const { title, take } = body
  return engine.journal.large({
    actor: actorOf(viewer),
    size: belowTask.get(engine.reader, { id })?.count ?? 0,
    *work(write) {
      const into = { title, creatorId: viewer.id }
      return taskSheet(engine, viewer, yield* copyTask(engine, write, { id, take }, into))
    },
  })
}

/** What hangs on a task goes over to another: comments, files, steps, followers, tags. */
function moveBelongings(engine: Engine, write: Writer, id: TaskId, into: TaskId): void {
  const { reader } = engine
  for (const comment of commentIdsOf.all(reader, { id }))
    write.update('comments', comment.id, { taskId: into })
  for (const file of attachmentsOn.all(reader, { id }))
    write.update('attachments', file, { taskId: into })
  const first = nextItemPlace(engine, into)
  for (const [i, item] of itemsOf.all(reader, { id }).entries())
    write.update('checklistItems', item.id, { taskId: into, position: first + i })
  const both = <T>(of: (id: TaskId) => T[]) => [...new Set([...of(into), ...of(id)])]
  const followers = both((of) => followsOf.all(reader, { id: of }).map((f) => f.personId))
  setFollowers(engine, write, into, followers)
  const tags = both((of) => taggingsOf.all(reader, { id: of }).map((t) => t.tagId))
  setTags(engine, write, into, tags)
}

/**
 * Merges a task into another: its comments, checklist, files, followers, tags and subtasks move
 * over, its description is added, and it is archived with a word about where it went. One change,
 * undone as one.
 */
export function mergeTask(
  engine: Engine,
  viewer: Viewer,
  id: TaskId,
  into: TaskId,
): Large<BulkDone> {
  needMember(viewer, 'merge tasks')
  needTask(engine, viewer, id)
  needTask(engine, viewer, into)
  for (const each of [id, into]) needOnTask(engine, viewer, each, 'edit', 'merge it')
  if (id === into) refuse('same-task', 'Choose another task to merge this one into.', 'into')
  checkNotUnder(engine.reader, into, id, {
    sentence: 'A task cannot be merged into one of its own subtasks.',
    place: 'into',
  })
  const to = needContext(engine, into)
  needOwnContacts(engine, viewer, {
    ids: peopleUnder(engine.reader, id),
    client: to.task.clientId ?? to.project?.clientId ?? null,
    place: 'into',
  })
  const children = childrenOf.all(engine.reader, { id }).length
  return countedLarge(engine, viewer, children, function* (write) {
    const from = needContext(engine, id).task
    const { projectId } = needContext(engine, into).task
    moveBelongings(engine, write, id, into)
    for (const child of childrenOf.all(engine.reader, { id })) {
      patchTask(engine, write, needContext(engine, child.id), { parentId: into, projectId })
      yield
    }
    // Subtasks that came along may have moved the dates of what they now stand under.
    const target = needContext(engine, into)
    patchTask(engine, write, target, {
      ...(from.description && { description: `${target.task.description}${from.description}` }),
      ...(target.task.estimate === null && from.estimate !== null && { estimate: from.estimate }),
    })
    patchTask(engine, write, needContext(engine, id), { archived: true, mergedInto: into })
    return 2
  })
}
