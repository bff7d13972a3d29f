import type { BulkDone } from '#contract/tasks.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, type Viewer } from '../../engine/viewer.ts'

/**
 * Runs work as one change of a person; answers how many things it says it touched, and the change
 * that undoes it whole (none where nothing was written).
 */
export function counted(
  engine: Engine,
  viewer: Viewer,
  work: (write: Writer) => number,
): Changed<BulkDone> {
  const { result: count, change } = engine.journal.change(actorOf(viewer), work)
  return { result: { count, change }, change }
}
