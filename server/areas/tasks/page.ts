import { sql } from 'drizzle-orm'
import { refuse } from '#core/refusal.ts'
import type { Fault } from '#core/conditions/condition.ts'
import type { TaskQuery } from '#contract/query.ts'
import type { TaskRow } from '#contract/tasks.ts'
import { ask } from '../../database/query.ts'
import { tasks } from '../../database/tables/index.ts'
import type { Engine } from '../../engine/services.ts'
import { sightOf, type Viewer } from '../../engine/viewer.ts'
import { compile } from './outline.ts'
import { taskRows } from './rows.ts'

export interface TaskPage {
  readonly tasks: readonly TaskRow[]
  /** Where the next page begins; null after the last. */
  readonly next: string | null
  readonly faults: readonly Fault[]
}

function offsetOf(cursor: string | null): number {
  if (cursor === null) return 0
  if (/^\d{1,9}$/.test(cursor)) return Number(cursor)
  return refuse('bad-cursor', 'The cursor is not one that this list gave.', 'cursor')
}

/**
 * One page of what a query finds. The cursor counts what came before: pages are stable while nothing
 * changes.
 */
export function taskPage(
  engine: Engine,
  viewer: Viewer,
  query: TaskQuery,
  { limit, cursor }: { limit: number; cursor: string | null },
): TaskPage {
  const offset = offsetOf(cursor)
  const { from, where, order, faults } = compile(engine, viewer, {
    ...query,
    group: null,
    sums: [],
  })
  const ids = ask<[number]>(
    engine.reader,
    sightOf(viewer),
    (sees) =>
      sql`select ${tasks.id} from ${from} where ${sees()} and ${where}
        order by ${order} limit ${limit + 1} offset ${offset}`,
  ).map(([id]) => id)
  const more = ids.length > limit
  return {
    tasks: taskRows(engine, viewer, ids.slice(0, limit)),
    next: more ? String(offset + limit) : null,
    faults,
  }
}
