import type { TaskId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import type { TaskSheet } from '#contract/tasks.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, type Viewer } from '../../engine/viewer.ts'
import { needOnTask } from '../access/levels.ts'
import { itemOf, lastItemOf } from './queries.ts'
import { needSight, taskSheet } from './service.ts'

function changed(
  engine: Engine,
  viewer: Viewer,
  taskId: TaskId,
  work: (write: Writer) => void,
): Changed<TaskSheet> {
  const { change } = engine.journal.change(actorOf(viewer), work)
  return { result: taskSheet(engine, viewer, taskId), change }
}

/** The place after the last step of a task. */
export const nextItemPlace = (engine: Engine, id: TaskId): number =>
  (lastItemOf.get(engine.reader, { id })?.position ?? -1) + 1

/** Adds a step, or several in their order, at the end. */
export function addItem(
  engine: Engine,
  viewer: Viewer,
  taskId: TaskId,
  ...titles: readonly string[]
): Changed<TaskSheet> {
  needSight(engine, viewer, taskId)
  needOnTask(engine, viewer, taskId, 'edit', 'change the checklist')
  const position = nextItemPlace(engine, taskId)
  return changed(engine, viewer, taskId, (write) => {
    for (const [i, each] of titles.entries())
      write.insert('checklistItems', { taskId, title: each, position: position + i })
  })
}

/** A step of a task, by both numbers. */
interface Step {
  readonly taskId: TaskId
  readonly id: number
}
const needItem = (engine: Engine, { taskId, id }: Step) =>
  itemOf.get(engine.reader, { id, task: taskId }) ??
  refuse('not-found', 'That checklist item is gone; someone removed it.')

export function editItem(
  engine: Engine,
  viewer: Viewer,
  step: Step,
  patch: { title?: string; done?: boolean },
): Changed<TaskSheet> {
  needSight(engine, viewer, step.taskId)
  const row = needItem(engine, step)
  if (patch.title === undefined) needOnTask(engine, viewer, step.taskId, 'work', 'tick this')
  else needOnTask(engine, viewer, step.taskId, 'edit', 'change the checklist')
  return changed(engine, viewer, step.taskId, (write) => {
    write.update('checklistItems', row, patch)
  })
}

export function removeItem(engine: Engine, viewer: Viewer, step: Step): Changed<TaskSheet> {
  needSight(engine, viewer, step.taskId)
  needOnTask(engine, viewer, step.taskId, 'edit', 'change the checklist')
  const row = needItem(engine, step)
  return changed(engine, viewer, step.taskId, (write) => write.remove('checklistItems', row.id))
}
