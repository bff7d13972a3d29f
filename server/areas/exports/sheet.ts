import {
  customId,
  enteredId,
  enteredSpec,
  TASK_FIELDS,
  type CustomField,
  type FieldSpec,
} from '#contract/fields.ts'
import type { TaskQuery } from '#contract/query.ts'
import type { Reader } from '../../database/query.ts'
import type { Engine } from '../../engine/services.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { fieldRow } from '../fields/queries.ts'
import { everybody } from '../people/queries.ts'
import { stateRow } from '../states/queries.ts'
import { outline } from '../tasks/outline.ts'
import { taskRows } from '../tasks/rows.ts'
import { cellOf, type Cell, type CellContext } from './cells.ts'

export interface Column {
  readonly field: string
  readonly name: string
  readonly sums: boolean
  readonly currency: string | null
  readonly custom: CustomField | undefined
}
/** A view as rows and columns, ready for any format. */
export interface SheetData {
  readonly columns: readonly Column[]
  readonly groups: readonly {
    readonly name: string
    readonly rows: readonly (readonly (Cell | null)[])[]
  }[]
}

/** What a field is, by its name; undefined for one that is gone. */
function specOf(
  reader: Reader,
  field: string,
  custom: CustomField | undefined,
): Pick<FieldSpec, 'name'> | undefined {
  if (custom) return custom
  const stateId = enteredId(field)
  const state = stateId === null ? undefined : stateRow(reader, stateId)
  if (state) return enteredSpec(state.name)
  return Object.entries(TASK_FIELDS).find(([name]) => name === field)?.[1]
}

/** A field as a column; none where it is gone. */
function columnOf(reader: Reader, field: string): Column[] {
  const id = customId(field)
  const custom = id === null ? undefined : fieldRow(reader, id)
  const spec = specOf(reader, field, custom)
  if (!spec) return []
  return [
    {
      field,
      name: field === 'estimate' ? 'Estimate (hours)' : spec.name,
      sums: field === 'estimate' || custom?.kind === 'number' || custom?.kind === 'money',
      currency: custom?.kind === 'money' ? (custom.options.currency ?? 'GBP') : null,
      custom,
    },
  ]
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
  const { reader, firm } = engine
  const names = ['title', ...fields.filter((field) => field !== 'title')]
  const columns = names.flatMap((field) => columnOf(reader, field))
  const people = new Map(everybody.all(reader).map((p) => [Number(p.id), p.name]))
  const context: CellContext = { zone: firm.zone(), nameOf: (id) => people.get(id) }
  const found = outline(engine, viewer, { ...query, every: false, sums: [] })
  return {
    columns,
    groups: found.groups.map((group) => ({
      name: group.name,
      rows: taskRows(engine, viewer, group.ids).map((task) =>
        columns.map((column) => cellOf(column, task, context)),
      ),
    })),
  }
}
