import type { PersonId, TagId, TaskId } from '#core/brands.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { assignmentsOf, followsOf, taggingsOf } from './queries.ts'

interface Link {
  readonly id: number
  readonly to: number
}

type Links = 'taskAssignees' | 'taskFollowers' | 'taskTags'

/** Makes the links of a task say exactly what is wanted; answers whether anything changed. */
function settle(
  write: Writer,
  table: Links,
  now: readonly Link[],
  wanted: readonly number[],
  make: (to: number) => void,
): boolean {
  const gone = now.filter((link) => !wanted.includes(link.to))
  const fresh = wanted.filter((to) => !now.some((link) => link.to === to))
  for (const link of gone) write.remove(table, link.id)
  for (const to of fresh) make(to)
  return gone.length + fresh.length > 0
}

type SetLinks<Id> = (
  engine: Engine,
  write: Writer,
  taskId: TaskId,
  wanted: readonly Id[],
) => boolean

export const setAssignees: SetLinks<PersonId> = ({ reader }, write, taskId, people) => {
  const now = assignmentsOf.all(reader, { id: taskId }).map((a) => ({ id: a.id, to: a.personId }))
  return settle(write, 'taskAssignees', now, people, (personId) =>
    write.insert('taskAssignees', { taskId, personId }),
  )
}

export const setFollowers: SetLinks<PersonId> = ({ reader }, write, taskId, people) => {
  const now = followsOf.all(reader, { id: taskId }).map((f) => ({ id: f.id, to: f.personId }))
  return settle(write, 'taskFollowers', now, people, (personId) =>
    write.insert('taskFollowers', { taskId, personId }),
  )
}

export const setTags: SetLinks<TagId> = ({ reader }, write, taskId, tags) => {
  const now = taggingsOf.all(reader, { id: taskId }).map((t) => ({ id: t.id, to: t.tagId }))
  return settle(write, 'taskTags', now, tags, (tagId) =>
    write.insert('taskTags', { taskId, tagId }),
  )
}
