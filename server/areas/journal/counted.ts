import type { BulkDone } from '#contract/tasks.ts'
import type { Changed, Writer } from '../../engine/journal.ts'
import type { Large, Steps } from '../../engine/portions.ts'
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

/** The same of work that may touch very much: `size` things, about. */
export const countedLarge = (
  { journal }: Engine,
  viewer: Viewer,
  size: number,
  work: (write: Writer) => Steps<number>,
): Large<BulkDone> =>
  journal.large({
    actor: actorOf(viewer),
    size,
    *work(write) {
      const count = yield* work(write)
      return { count, change: write.written ? write.change : null }
    },
  })
