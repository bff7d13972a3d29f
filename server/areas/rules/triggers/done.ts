import { and, eq, isNull, sql } from 'drizzle-orm'
import type { PhaseId, ProjectId, TaskId } from '#core/brands.ts'
import type { Event } from '#core/events/events.ts'
import { most, within, type Reader } from '../../../database/query.ts'
import { checklistItems, tasks } from '../../../database/tables/index.ts'
import { itsTask, type Wakes } from './wake.ts'

/** Triggers that wait until the last of several is done. */

const open = and(isNull(tasks.closedAt), isNull(tasks.archivedAt))
const placeOf = within((orm, a: { id: TaskId }) =>
  orm
    .select({ parentId: tasks.parentId, phaseId: tasks.phaseId, projectId: tasks.projectId })
    .from(tasks)
    .where(eq(tasks.id, a.id)),
)
/** What a task stands in. */
type Place = 'parent' | 'phase' | 'project'
const openTask = within((orm, a: { id: TaskId }) =>
  orm
    .select({ id: tasks.id })
    .from(tasks)
    .where(and(eq(tasks.id, a.id), open)),
)
/** Something open in what a task stands in. */
const openIn: Readonly<Record<Place, { get(reader: Reader, a: { id: number }): unknown }>> = {
  parent: within((orm, a: { id: TaskId }) =>
    orm
      .select({ id: tasks.id })
      .from(tasks)
      .where(and(eq(tasks.parentId, a.id), open))
      .limit(most(1)),
  ),
  phase: within((orm, a: { id: PhaseId }) =>
    orm
      .select({ id: tasks.id })
      .from(tasks)
      .where(and(eq(tasks.phaseId, a.id), open))
      .limit(most(1)),
  ),
  project: within((orm, a: { id: ProjectId }) =>
    orm
      .select({ id: tasks.id })
      .from(tasks)
      .where(and(eq(tasks.projectId, a.id), open))
      .limit(most(1)),
  ),
}
const steps = within((orm, a: { id: TaskId }) =>
  orm
    .select({
      all: sql<number>`count(*)`,
      done: sql<number>`coalesce(sum(${checklistItems.done}), 0)`,
    })
    .from(checklistItems)
    .where(eq(checklistItems.taskId, a.id)),
)

const isClosing = (event: Event): event is Event & { readonly kind: 'task.changed' } =>
  event.kind === 'task.changed' &&
  event.fields['closed']?.from === null &&
  event.fields['closed'].to !== null

/** The number of what a task stands in, where nothing of it is open any more. */
function doneBy(event: Event, reader: Reader, of: Place): number | null {
  if (!isClosing(event)) return null
  const place = placeOf.get(reader, { id: event.task })
  const id = place && { parent: place.parentId, phase: place.phaseId, project: place.projectId }[of]
  return id != null && openIn[of].get(reader, { id }) === undefined ? id : null
}
const closing = (of: Place, about: Wakes<unknown>['about']): Wakes<unknown> => ({
  on: () => ['task.changed:closed'],
  about,
  once: (event, reader) => `${of}:${doneBy(event, reader, of)}`,
})

export const stepsDone: Wakes<unknown> = {
  on: () => ['step.changed'],
  about(event, reader) {
    const about = itsTask(event)
    const found = about && steps.get(reader, { id: about.id })
    return found && found.all > 0 && found.all === found.done ? about : null
  },
  once: (event) => `steps:${itsTask(event)?.id}`,
}
/** About the task that they are a part of, while that is open itself. */
export const subtasksDone = closing('parent', (event, reader) => {
  const id = doneBy(event, reader, 'parent')
  return id !== null && openTask.get(reader, { id }) ? { kind: 'task', id } : null
})
export const phaseDone = closing('phase', (event, reader) =>
  doneBy(event, reader, 'phase') === null ? null : itsTask(event),
)
export const workDone = closing('project', (event, reader) =>
  doneBy(event, reader, 'project') === null ? null : itsTask(event),
)
