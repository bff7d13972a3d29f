import type { ProjectId, TaskId } from '#core/brands.ts'
import { refuse } from '#core/refusal.ts'
import type { BulkDone } from '#contract/tasks.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { needMember, type Viewer } from '../../engine/viewer.ts'
import { needOnTask } from '../access/levels.ts'
import { counted } from '../journal/counted.ts'
import { nextPlaceIn, placeOf, placesIn } from './queries.ts'
import { needTask } from './service.ts'

/** Room left between two places, so that most moves write one row. */
const STEP = 1024
/** Before every place there is. */
const FIRST = Number.MIN_SAFE_INTEGER

/** Numbers a project's tasks anew, with room between them. */
function renumber(
  engine: Engine,
  write: Writer,
  project: ProjectId,
  { id, after }: { id: TaskId; after: TaskId | null },
): void {
  const ids = placesIn.all(engine.reader, { project }).map((task) => task.id)
  const others = ids.filter((other) => other !== id)
  others.splice(after === null ? 0 : others.indexOf(after) + 1, 0, id)
  for (const [i, task] of others.entries()) write.update('tasks', task, { position: i * STEP })
}

/**
 * Puts a task right after another of its project, or first. Renumbers the project only when there is
 * no room left.
 */
export function orderTask(
  engine: Engine,
  viewer: Viewer,
  id: TaskId,
  after: TaskId | null,
): Changed<BulkDone> {
  needMember(viewer, 'put tasks in order')
  const task = needTask(engine, viewer, id)
  needOnTask(engine, viewer, id, 'edit', 'put it in order')
  const project =
    task.project?.id ?? refuse('no-order', 'Only tasks of a project have an order by hand.')
  const low = after === null ? undefined : placeOf.get(engine.reader, { id: after, project })
  if (after !== null && (!low || after === id))
    refuse('not-found', 'The task to put it after is not in this project any more.', 'after')
  const high = nextPlaceIn.get(engine.reader, {
    project,
    position: low?.position ?? FIRST,
    id: after ?? 0,
    but: id,
  })
  return counted(engine, viewer, (write) => {
    const place = between(low?.position, high?.position)
    if (place === null) renumber(engine, write, project, { id, after })
    else write.update('tasks', id, { position: place })
    return 1
  })
}

/** A place between two, either of which may be missing; null where there is no room. */
function between(low: number | undefined, high: number | undefined): number | null {
  if (low === undefined) return (high ?? STEP) - STEP
  if (high === undefined) return low + STEP
  const middle = Math.floor((low + high) / 2)
  return middle > low && middle < high ? middle : null
}
