import { refuse } from '#core/refusal.ts'
import type { BulkDone } from '#contract/tasks.ts'
import type { Engine } from '../../engine/services.ts'
import { needMember, type Viewer } from '../../engine/viewer.ts'
import { counted } from '../journal/counted.ts'
import { needTask } from './service.ts'

/** Room left between two places, so that most moves write one row. */
const STEP = 1024

/**
 * Puts a task right after another of its project, or first. Renumbers the project only when there
 * is no room left.
 */
export function orderTask(
  engine: Engine,
  viewer: Viewer,
  id: number,
  after: number | null,
): BulkDone {
  needMember(viewer, 'put tasks in order')
  const task = needTask(engine, viewer, id)
  const projectId = task.project?.id ?? null
  if (projectId === null) refuse('no-order', 'Only tasks of a project have an order by hand.')
  const rows = (
    engine.db
      .prepare('select id, position from tasks where projectId = ? order by position, id')
      .all(projectId) as { id: number; position: number }[]
  ).filter((r) => r.id !== id)
  const at = after === null ? 0 : rows.findIndex((r) => r.id === after) + 1
  if (after !== null && at === 0)
    refuse('not-found', 'The task to put it after is not in this project any more.', 'after')
  const [low, high] = [rows[at - 1]?.position, rows[at]?.position]
  const between =
    low === undefined
      ? (high ?? STEP) - STEP
      : high === undefined
        ? low + STEP
        : Math.floor((low + high) / 2)
  return counted(engine, viewer, (write) => {
    if (low === undefined || high === undefined || (between > low && between < high))
      write.update('tasks', id, { position: between })
    else {
      rows.splice(at, 0, { id, position: -1 })
      rows.forEach((row, i) => write.update('tasks', row.id, { position: i * STEP }))
    }
    return 1
  })
}
