import { refuse } from '#core/refusal.ts'
import type { BulkDone, TaskSheet } from '#contract/tasks.ts'
import type { Copies } from '#contract/words.ts'
import type { Engine } from '../../engine/services.ts'
import type { Writer } from '../../engine/journal.ts'
import { actorOf, needMember, type Viewer } from '../../engine/viewer.ts'
import { counted } from '../journal/counted.ts'
import { needTask, taskSheet } from './service.ts'
import { insertTask, patchTask, setFollowers, setTags } from './write.ts'

type Columns = Record<string, unknown>

/** What a copy may be given that its original does not have. */
export interface CopyInto {
  readonly title?: string
  readonly projectId?: number | null
  readonly phaseId?: number | null
  readonly parentId?: number | null
  readonly position?: number
  readonly creatorId: number | null
  /** How a date becomes the copy's. */
  readonly date?: (date: string) => string
}

/**
 * Copies a task with what is chosen, its subtasks below it; answers the copy's id. Never taken:
 * comments, journal, state.
 */
export function copyTask(
  engine: Engine,
  write: Writer,
  id: number,
  take: readonly Copies[],
  into: CopyInto,
): number {
  const { db } = engine
  const row = db.prepare('select * from tasks where id = ?').get(id) as Columns & { title: string }
  const has = (what: Copies) => take.includes(what)
  const numbers = (sql: string) => (db.prepare(sql).all(id) as { n: number }[]).map((r) => r.n)
  const dated = (name: 'start' | 'due') =>
    typeof row[name] === 'string' ? (into.date?.(row[name]) ?? row[name]) : null
  const people = has('assignees')
    ? (db
        .prepare(
          'select a.personId as id, a.estimate from taskAssignees a join people w on w.id = a.personId and w.active = 1 where a.taskId = ?',
        )
        .all(id) as {
        id: number
        estimate: number | null
      }[])
    : []
  const made = insertTask(engine, write, {
    title: into.title ?? row.title,
    priority: row['priority'] as never,
    clientId: row['clientId'] as number | null,
    projectId: into.projectId === undefined ? (row['projectId'] as number | null) : into.projectId,
    phaseId: into.phaseId === undefined ? (row['phaseId'] as number | null) : into.phaseId,
    parentId: into.parentId === undefined ? (row['parentId'] as number | null) : into.parentId,
    position: into.position ?? (row['position'] as number),
    estimate: row['estimate'] as number | null,
    doneBy: row['doneBy'] as 'any' | 'all',
    datesFollow: row['datesFollow'] === 1 && has('subtasks'),
    stateFollows: row['stateFollows'] === 1 && has('subtasks'),
    role: row['role'] as string | null,
    creatorId: into.creatorId,
    ...(has('description') && { description: row['description'] as string }),
    ...(has('dates') && {
      start: dated('start'),
      due: dated('due'),
      dueTime: row['dueTime'] as string | null,
    }),
    assignees: people.map((p) => p.id),
    estimates: Object.fromEntries(
      people.filter((p) => p.estimate !== null).map((p) => [p.id, p.estimate]),
    ),
    followers: has('followers')
      ? numbers('select personId as n from taskFollowers where taskId = ?')
      : [],
    tags: has('tags') ? numbers('select tagId as n from taskTags where taskId = ?') : [],
    checklist: has('checklist')
      ? (
          db
            .prepare('select title from checklistItems where taskId = ? order by position, id')
            .all(id) as { title: string }[]
        ).map((i) => i.title)
      : [],
  })
  if (has('fields'))
    for (const v of db
      .prepare('select fieldId, text, number from fieldValues where taskId = ?')
      .all(id) as { fieldId: number; text: string | null; number: number | null }[])
      write.insert('fieldValues', { taskId: made, ...v })
  if (has('files'))
    for (const a of db
      .prepare(
        'select name, url, type, size, digest, personId, at from attachments where taskId = ?',
      )
      .all(id) as Columns[])
      write.insert('attachments', { ...a, taskId: made } as never)
  if (has('subtasks'))
    for (const child of db
      .prepare(
        'select id from tasks where parentId = ? and archivedAt is null order by position, id',
      )
      .all(id) as { id: number }[]) {
      const { title: _, position: __, ...rest } = into
      copyTask(engine, write, child.id, take, { ...rest, parentId: made })
    }
  return made
}

/** A copy beside the original. */
export function duplicateTask(
  engine: Engine,
  viewer: Viewer,
  id: number,
  body: { title: string; take: Copies[] },
): TaskSheet {
  needMember(viewer, 'copy tasks')
  needTask(engine, viewer, id)
  const made = engine.journal.change(actorOf(viewer), (write) =>
    copyTask(engine, write, id, body.take, { title: body.title, creatorId: viewer.id }),
  )
  return taskSheet(engine, viewer, made)
}

/**
 * Merges a task into another: its comments, checklist, files, followers, tags and subtasks move
 * over, its
 * description is added, and it is archived with a word about where it went. One change, undone as
 * one.
 */
export function mergeTask(engine: Engine, viewer: Viewer, id: number, into: number): BulkDone {
  needMember(viewer, 'merge tasks')
  const from = needTask(engine, viewer, id)
  const to = needTask(engine, viewer, into)
  if (id === into) refuse('same-task', 'Choose another task to merge this one into.', 'into')
  const { db } = engine
  for (
    let up = to.parentId;
    up !== null;
    up = (
      db.prepare('select parentId from tasks where id = ?').get(up) as { parentId: number | null }
    ).parentId
  )
    if (up === id) refuse('circle', 'A task cannot be merged into one of its own subtasks.', 'into')
  return counted(engine, viewer, (write) => {
    const rows = (sql: string, of: number) => db.prepare(sql).all(of) as { id: number }[]
    const description = (of: number) =>
      (db.prepare('select description from tasks where id = ?').get(of) as { description: string })
        .description
    for (const { id: row } of rows('select id from comments where taskId = ?', id))
      write.update('comments', row, { taskId: into })
    for (const { id: row } of rows('select id from attachments where taskId = ?', id))
      write.update('attachments', row, { taskId: into })
    const { n } = db
      .prepare('select coalesce(max(position), -1) + 1 as n from checklistItems where taskId = ?')
      .get(into) as { n: number }
    rows('select id from checklistItems where taskId = ? order by position, id', id).forEach(
      ({ id: row }, i) => write.update('checklistItems', row, { taskId: into, position: n + i }),
    )
    const both = (sql: string) => [
      ...new Set(
        [into, id].flatMap((of) => (db.prepare(sql).all(of) as { n: number }[]).map((r) => r.n)),
      ),
    ]
    setFollowers(
      engine,
      write,
      into,
      both('select personId as n from taskFollowers where taskId = ?'),
    )
    setTags(engine, write, into, both('select tagId as n from taskTags where taskId = ?'))
    for (const { id: child } of rows('select id from tasks where parentId = ?', id))
      patchTask(engine, write, child, { parentId: into, projectId: to.project?.id ?? null })
    const added = description(id)
    patchTask(engine, write, into, {
      ...(added && { description: `${description(into)}${added}` }),
      ...(to.estimate === null && from.estimate !== null && { estimate: from.estimate }),
    })
    patchTask(engine, write, id, { archived: true, mergedInto: into })
    return 2
  })
}
