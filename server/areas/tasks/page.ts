import { refuse } from '#core/refusal.ts'
import type { Fault, TaskQuery } from '#contract/query.ts'
import type { TaskRow } from '#contract/tasks.ts'
import type { Engine } from '../../engine/services.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { compile } from './outline.ts'
import { taskRows } from './queries.ts'

export interface TaskPage {
  readonly tasks: readonly TaskRow[]
  /** Where the next page begins; null after the last. */
  readonly next: string | null
  readonly faults: readonly Fault[]
}

/**
 * One page of what a query finds. The cursor counts what came before: pages are stable while
 * nothing changes.
 */
export function taskPage(
  engine: Engine,
  viewer: Viewer,
  query: TaskQuery,
  limit: number,
  cursor: string | null,
): TaskPage {
  const offset =
    cursor === null
      ? 0
      : /^\d{1,9}$/.test(cursor)
        ? Number(cursor)
        : refuse('bad-cursor', 'The cursor is not one that this list gave.', 'cursor')
  const c = compile(engine, viewer, { ...query, group: null, sums: [] })
  const ids = engine.db
    .prepare(`select t.id ${c.from} order by ${c.order} limit ? offset ?`)
    .pluck()
    .all(...c.args, limit + 1, offset) as number[]
  const more = ids.length > limit
  return {
    tasks: taskRows(engine, viewer, ids.slice(0, limit)),
    next: more ? String(offset + limit) : null,
    faults: c.faults,
  }
}
