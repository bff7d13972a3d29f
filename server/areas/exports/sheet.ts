import type { Field } from '#core/fields/field.ts'
import { refuse } from '#core/refusal.ts'
import type { TaskId } from '#core/brands.ts'
import type { Outline, TaskQuery } from '#contract/query.ts'
import type { TaskRow } from '#contract/tasks.ts'
import type { Engine } from '../../engine/services.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { fieldsFor } from '../fields/queries.ts'
import { outline } from '../tasks/outline.ts'
import { waysOf } from '../people/ways.ts'
import { taskRows } from '../tasks/rows.ts'
import { cellOf, type Cell } from './cells.ts'

export interface Column {
  readonly field: string
  readonly name: string
  readonly sums: boolean
  readonly currency: string | null
}
/** A view as rows and columns, ready for any format. */
export interface SheetData {
  readonly columns: readonly Column[]
  readonly groups: readonly {
    readonly name: string
    readonly rows: readonly (readonly (Cell | null)[])[]
  }[]
}

const columnOf = ({ name, label, type, sums, currency }: Field<'task'>): Column => ({
  field: name,
  name: type === 'minutes' ? `${label} (hours)` : label,
  sums,
  currency: currency ?? null,
})

/** As many tasks as leave in one file, and as many columns of them. */
const MOST_TASKS = 200_000
const MOST_COLUMNS = 100
/** As many rows as are read at once. */
const PORTION = 1_000

/** Everything that a query finds, in its groups. @throws Refusal `too-many-rows`: nothing is left out */
export function everything(engine: Engine, viewer: Viewer, query: TaskQuery): Outline['groups'] {
  const whole = { ...query, every: false, sums: [] }
  const { groups, cut } = outline(engine, viewer, whole, MOST_TASKS)
  if (cut)
    refuse(
      'too-many-rows',
      `This view holds over ${MOST_TASKS.toLocaleString('en-GB')} tasks; narrow it before it is saved.`,
    )
  return groups
}

/** The rows of any number of tasks, read in portions; each is let go once it is `told`. */
export function rowsTold<T>(
  engine: Engine,
  viewer: Viewer,
  ids: readonly TaskId[],
  told: (task: TaskRow) => T,
): T[] {
  const out: T[] = []
  for (let from = 0; from < ids.length; from += PORTION)
    for (const task of taskRows(engine, viewer, ids.slice(from, from + PORTION)))
      out.push(told(task))
  return out
}

/**
 * A view as a table: its groups, its rows in their order, its columns. Fields that are gone are left
 * out.
 */
export function sheetData(
  engine: Engine,
  viewer: Viewer,
  query: TaskQuery,
  fields: readonly string[],
): SheetData {
  const lookup = fieldsFor(engine.reader, viewer)
  const names = [...new Set(['title', ...fields])].slice(0, MOST_COLUMNS)
  const known = names.flatMap((name) => lookup(name) ?? []).filter((field) => field.column)
  const at = { today: engine.firm.today(), zone: waysOf(engine, viewer).zone }
  return {
    columns: known.map(columnOf),
    groups: everything(engine, viewer, query).map(({ name, ids }) => ({
      name,
      rows: rowsTold(engine, viewer, ids, (task) => known.map((field) => cellOf(field, task, at))),
    })),
  }
}
