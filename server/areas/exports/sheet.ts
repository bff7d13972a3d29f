import type { Field } from '#core/fields/field.ts'
import type { TaskQuery } from '#contract/query.ts'
import type { Engine } from '../../engine/services.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { fieldsFor } from '../fields/queries.ts'
import { outline } from '../tasks/outline.ts'
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
  const names = ['title', ...fields.filter((field) => field !== 'title')]
  const known = names.flatMap((name) => lookup(name) ?? []).filter((field) => field.column)
  const at = { today: engine.firm.today(), zone: engine.firm.zone() }
  const found = outline(engine, viewer, { ...query, every: false, sums: [] })
  return {
    columns: known.map(columnOf),
    groups: found.groups.map((group) => ({
      name: group.name,
      rows: taskRows(engine, viewer, group.ids).map((task) =>
        known.map((field) => cellOf(field, task, at)),
      ),
    })),
  }
}
