import { refuse } from '#core/refusal.ts'
import type { TaskSheet } from '#contract/tasks.ts'
import type { Engine } from '../../engine/services.ts'
import type { TableName } from '../../engine/journal.ts'
import { actorOf, type Viewer } from '../../engine/viewer.ts'
import { needTask, taskSheet } from '../tasks/service.ts'

interface Row {
  id: number
  change: number
  entity: TableName
  entityId: number
  action: string
  actorKind: string
  actorId: number | null
  before: string | null
  after: string | null
}

/**
 * Takes back the newest change to a task, if this person made it: every row is put back as it was.
 * @throws Refusal `nothing-to-undo`, `changed-since` where somebody's later change stands in the way.
 */
export function undoChange(engine: Engine, viewer: Viewer, taskId: number): TaskSheet {
  needTask(engine, viewer, taskId)
  const { db, journal } = engine
  journal.change(actorOf(viewer), (write) => {
    const last = db.prepare('select "change", actorKind, actorId from journal where taskId = ? order by id desc limit 1').get(taskId) as Row | undefined
    if (!last) return refuse('nothing-to-undo', 'Nothing was changed here yet.')
    if (last.actorKind !== 'person' || last.actorId !== viewer.id) return refuse('changed-since', 'Someone else changed this task afterwards; undoing yours would undo theirs.')
    const rows = db.prepare('select * from journal where "change" = ? and taskId = ? order by id desc').all(last.change, taskId) as Row[]
    if (rows.some((r) => r.entity === 'tasks' && r.action === 'made')) return refuse('nothing-to-undo', 'This is where the task was made.')
    for (const row of rows) {
      const before = row.before ? (JSON.parse(row.before) as Record<string, unknown>) : {}
      if (row.action === 'made') write.remove(row.entity, row.entityId)
      else if (row.action === 'removed') write.insert(row.entity, before as never)
      else {
        const { version: _, ...columns } = before
        const now = db.prepare('select version from tasks where id = ?').get(taskId) as { version: number }
        write.update(row.entity, row.entityId, { ...columns, ...(row.entity === 'tasks' && { version: now.version + 1 }) } as never)
      }
    }
  })
  return taskSheet(engine, viewer, taskId)
}
