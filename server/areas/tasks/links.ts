import type { PersonId, TagId, TaskId } from '#core/brands.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { assignmentsOf, followsOf, taggingsOf } from './queries.ts'

interface Link {
  readonly id: number
  readonly to: number
}

/** Makes links say exactly what is wanted; answers whether anything changed. */
function settle(
  now: readonly Link[],
  wanted: readonly number[],
  make: (to: number) => void,
  drop: (id: number) => void,
): boolean {
  const gone = now.filter((link) => !wanted.includes(link.to))
  const fresh = wanted.filter((to) => !now.some((link) => link.to === to))
  for (const link of gone) drop(link.id)
  for (const to of fresh) make(to)
  return gone.length + fresh.length > 0
}

export const setAssignees = (
  engine: Engine,
  write: Writer,
  taskId: TaskId,
  people: readonly PersonId[],
): boolean =>
  settle(
    assignmentsOf.all(engine.reader, { id: taskId }).map((a) => ({ id: a.id, to: a.personId })),
    people,
    (personId) => write.insert('taskAssignees', { taskId, personId }),
    (id) => write.remove('taskAssignees', id),
  )

export const setFollowers = (
  engine: Engine,
  write: Writer,
  taskId: TaskId,
  people: readonly PersonId[],
): boolean =>
  settle(
    followsOf.all(engine.reader, { id: taskId }).map((f) => ({ id: f.id, to: f.personId })),
    people,
    (personId) => write.insert('taskFollowers', { taskId, personId }),
    (id) => write.remove('taskFollowers', id),
  )

export const setTags = (
  engine: Engine,
  write: Writer,
  taskId: TaskId,
  tags: readonly TagId[],
): boolean =>
  settle(
    taggingsOf.all(engine.reader, { id: taskId }).map((t) => ({ id: t.id, to: t.tagId })),
    tags,
    (tagId) => write.insert('taskTags', { taskId, tagId }),
    (id) => write.remove('taskTags', id),
  )
