import type { BulkDone } from '#contract/tasks.ts'
import type { Writer } from '../../engine/journal.ts'
import type { Engine } from '../../engine/services.ts'
import { actorOf, type Viewer } from '../../engine/viewer.ts'

/**
 * Runs work as one change of a person; answers how many things it says it touched, and the change
 * that undoes it whole (none where nothing was written).
 */
export function counted(engine: Engine, viewer: Viewer, work: (write: Writer) => number): BulkDone {
  const before = engine.journal.latest()
  const count = engine.journal.change(actorOf(viewer), work)
  const latest = engine.journal.latest()
  return { count, change: latest > before ? latest : null }
}
