import type { TaskId } from '#core/brands.ts'
import type { ActivityRow } from '#contract/tasks.ts'
import type { Engine } from '../../engine/services.ts'
import { sightOf, type Viewer } from '../../engine/viewer.ts'
import { entriesOfTask } from '../journal/queries.ts'
import { itemOfRow, whoOf } from '../journal/entries.ts'
import { wordingOf } from '../journal/wording.ts'
import { needSight } from './service.ts'

/** What happened to a task, newest first; what says nothing of its own is left out. */
export function activity(engine: Engine, viewer: Viewer, task: TaskId): ActivityRow[] {
  needSight(engine, viewer, task)
  const entries = entriesOfTask
    .all(engine.reader, { task, sight: sightOf(viewer) })
    .map((row) => ({ ...row, item: itemOfRow(row) }))
  const say = wordingOf(engine, viewer, entries)
  return entries.flatMap((entry) => {
    const text = say(entry)
    if (text === null) return []
    return [
      {
        id: entry.id,
        at: entry.at,
        who: whoOf(entry),
        automatic: entry.actorKind !== 'person',
        text,
      },
    ]
  })
}
