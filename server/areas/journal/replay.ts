import type { ChangeId } from '#core/brands.ts'
import type { Stored } from '../../database/tables/engine.ts'

/** One entry of a row's history, oldest first; entries of changes that take back are not part. */
export interface Step {
  readonly change: ChangeId
  readonly action: 'made' | 'changed' | 'removed'
  readonly before: Stored | null
  readonly after: Stored | null
}
/** How a row would stand if only some changes had ever been. */
export interface Standing {
  readonly exists: boolean
  /** The columns that were ever changed, as they would be. */
  readonly values: Stored
}

/** Counters that every change moves on: they go forward, whatever is taken back. */
export const COUNTERS: ReadonlySet<string> = new Set(['version', 'failures'])

/** Whether a row would be there: as its newest standing coming or going left it. */
function existence(steps: readonly Step[], stands: (change: ChangeId) => boolean): boolean {
  const turns = steps.filter((step) => step.action !== 'changed')
  const newest = turns.findLast((step) => stands(step.change))
  if (newest) return newest.action === 'made'
  const first = turns[0]
  return first === undefined || first.action === 'removed'
}

/** A column's value: as its newest standing change left it, else as it was before the first. */
function valueOf(
  column: string,
  steps: readonly Step[],
  stands: (change: ChangeId) => boolean,
): Stored[string] {
  const writes = steps.filter((step) => step.action === 'changed' && column in (step.after ?? {}))
  const newest = writes.findLast((step) => stands(step.change))
  return (newest ? newest.after?.[column] : writes[0]?.before?.[column]) ?? null
}

/**
 * Replays a row's history with only the changes that stand. What comes out depends on which changes
 * stand and not on the order in which others were taken back: so that taking back any set of
 * changes, in any order, leaves the row as if they had never been.
 */
export function replay(steps: readonly Step[], stands: (change: ChangeId) => boolean): Standing {
  const columns = new Set(
    steps.flatMap((step) => (step.action === 'changed' ? Object.keys(step.after ?? {}) : [])),
  )
  const values: Record<string, Stored[string]> = {}
  for (const column of columns)
    if (!COUNTERS.has(column)) values[column] = valueOf(column, steps, stands)
  return { exists: existence(steps, stands), values }
}

/** The whole row as it last was, to be put back from. */
export const lastWhole = (steps: readonly Step[]): Stored =>
  steps.findLast((step) => step.action === 'removed')?.before ??
  steps.findLast((step) => step.action === 'made')?.after ??
  {}
