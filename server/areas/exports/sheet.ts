import type { IsoDate, LocalTime } from '#core/brands.ts'
import { toLocal } from '#core/calendar/dates.ts'
import { inUnits } from '#core/money/money.ts'
import {
  customId,
  enteredId,
  enteredSpec,
  sayValue,
  TASK_FIELDS,
  type CustomField,
} from '#contract/fields.ts'
import type { TaskQuery } from '#contract/query.ts'
import type { TaskRow } from '#contract/tasks.ts'
import { PRIORITY_NAMES } from '#contract/words.ts'
import type { Engine } from '../../engine/services.ts'
import type { Viewer } from '../../engine/viewer.ts'
import { fieldRow } from '../fields/queries.ts'
import { stateRow } from '../states/queries.ts'
import { outline } from '../tasks/outline.ts'
import { taskRows } from '../tasks/queries.ts'

/** A cell: text, a number with what it counts, or a date. */
export type Cell =
  | { readonly kind: 'text'; readonly text: string }
  | { readonly kind: 'number' | 'hours' | 'money'; readonly number: number }
  | { readonly kind: 'date'; readonly date: IsoDate; readonly time: LocalTime | null }
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

const text = (value: string | null | undefined): Cell | null =>
  value ? { kind: 'text', text: value } : null
const date = (value: string | null, time: string | null = null): Cell | null =>
  value === null ? null : { kind: 'date', date: value as IsoDate, time: time as LocalTime | null }

function cellOf(
  engine: Engine,
  field: string,
  own: CustomField | undefined,
  task: TaskRow,
): Cell | null {
  const instant = (at: number | null) => {
    const local = at === null ? null : toLocal(at, engine.firm.zone())
    return local && date(local.date, local.time)
  }
  const name = (table: 'phases' | 'people', id: number | null) =>
    id === null
      ? null
      : ((
          engine.db.prepare(`select name from ${table} where id = ?`).get(id) as
            { name: string } | undefined
        )?.name ?? null)
  if (own) {
    const value = task.fields[own.id]
    if (value === undefined || value === null) return null
    switch (own.kind) {
      case 'number':
        return { kind: 'number', number: Number(value) }
      case 'money':
        return { kind: 'money', number: inUnits(Number(value), own.options.currency ?? 'GBP') }
      case 'date':
        return date(String(value))
      default:
        return text(sayValue(own, value, (id) => name('people', id) ?? undefined))
    }
  }
  switch (field) {
    case 'id':
      return { kind: 'number', number: task.id }
    case 'title':
      return text(task.title)
    case 'state':
      return text(task.stateName)
    case 'priority':
      return text(PRIORITY_NAMES[task.priority])
    case 'assignee':
      return text(task.assignees.map((a) => a.name).join(', '))
    case 'client':
      return text(task.client?.name)
    case 'project':
      return text(task.project?.name)
    case 'phase':
      return text(name('phases', task.phaseId))
    case 'tag':
      return text(task.tags.map((t) => t.name).join(', '))
    case 'start':
      return date(task.start)
    case 'due':
      return date(task.due, task.dueTime)
    case 'created':
      return instant(task.createdAt)
    case 'closed':
      return instant(task.closedAt)
    case 'entered':
      return instant(task.entered)
    case 'estimate':
      return task.estimate === null
        ? null
        : { kind: 'hours', number: Math.round((task.estimate / 60) * 100) / 100 }
    case 'steps':
      return task.checklist.length
        ? text(`${task.checklist.filter((i) => i.done).length} of ${task.checklist.length}`)
        : null
    default: {
      const stateId = enteredId(field)
      return stateId === null ? null : instant(task.stateDates[stateId] ?? null)
    }
  }
}

/**
 * A view as a table: its groups, its rows in their order, its columns. Fields that are gone are
 * left out.
 */
export function sheetData(
  engine: Engine,
  viewer: Viewer,
  query: TaskQuery,
  fields: readonly string[],
): SheetData {
  const owns = new Map(
    fields.flatMap((f) => {
      const id = customId(f)
      const own = id === null ? undefined : fieldRow(engine.db, id)
      return own ? [[f, own] as const] : []
    }),
  )
  const columns = ['title', ...fields.filter((f) => f !== 'title')].flatMap((field): Column[] => {
    const own = owns.get(field)
    const state = stateRow(engine.db, enteredId(field) ?? 0)
    const spec =
      own ??
      (state
        ? enteredSpec(state.name)
        : Object.hasOwn(TASK_FIELDS, field)
          ? TASK_FIELDS[field as keyof typeof TASK_FIELDS]
          : undefined)
    if (!spec) return []
    return [
      {
        field,
        name: field === 'estimate' ? 'Estimate (hours)' : spec.name,
        sums: field === 'estimate' || own?.kind === 'number' || own?.kind === 'money',
        currency: own?.kind === 'money' ? (own.options.currency ?? 'GBP') : null,
      },
    ]
  })
  const found = outline(engine, viewer, { ...query, every: false, sums: [] })
  return {
    columns,
    groups: found.groups.map((group) => ({
      name: group.name,
      rows: taskRows(engine, viewer, group.ids).map((task) =>
        columns.map((c) => cellOf(engine, c.field, owns.get(c.field), task)),
      ),
    })),
  }
}
