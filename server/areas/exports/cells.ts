import type { IsoDate, LocalTime } from '#core/brands.ts'
import { isoDate, localTime, toLocal } from '#core/calendar/dates.ts'
import { inUnits } from '#core/money/money.ts'
import { enteredId, sayValue, type CustomField } from '#contract/fields.ts'
import type { TaskRow } from '#contract/tasks.ts'
import { PRIORITY_NAMES } from '#contract/words.ts'

/** A cell: text, a number with what it counts, or a date. */
export type Cell =
  | { readonly kind: 'text'; readonly text: string }
  | { readonly kind: 'number' | 'hours' | 'money'; readonly number: number }
  | { readonly kind: 'date'; readonly date: IsoDate; readonly time: LocalTime | null }

/** What cells are worked out by, beside the task: the firm's zone, the names of people. */
export interface CellContext {
  readonly zone: string
  readonly nameOf: (personId: number) => string | undefined
}

const text = (value: string | null | undefined): Cell | null =>
  value ? { kind: 'text', text: value } : null
const date = (value: string | null, time: string | null = null): Cell | null =>
  value === null
    ? null
    : { kind: 'date', date: isoDate(value), time: time === null ? null : localTime(time) }
function moment({ zone }: CellContext, at: number | null): Cell | null {
  if (at === null) return null
  const local = toLocal(at, zone)
  return date(local.date, local.time)
}
/** Minutes as hours, to the hundredth. */
const hours = (minutes: number | null): Cell | null =>
  minutes === null ? null : { kind: 'hours', number: Math.round((minutes / 60) * 100) / 100 }

/** How each field of a task that leaves as a column is told. */
const CELLS: Readonly<Record<string, (task: TaskRow, context: CellContext) => Cell | null>> = {
  id: (task) => ({ kind: 'number', number: task.id }),
  title: (task) => text(task.title),
  state: (task) => text(task.stateName),
  priority: (task) => text(PRIORITY_NAMES[task.priority]),
  assignee: (task) => text(task.assignees.map((a) => a.name).join(', ')),
  client: (task) => text(task.client?.name),
  project: (task) => text(task.project?.name),
  phase: (task) => text(task.phaseName),
  tag: (task) => text(task.tags.map((tag) => tag.name).join(', ')),
  start: (task) => date(task.start),
  due: (task) => date(task.due, task.dueTime),
  created: (task, context) => moment(context, task.createdAt),
  closed: (task, context) => moment(context, task.closedAt),
  entered: (task, context) => moment(context, task.entered),
  estimate: (task) => hours(task.estimate),
  steps: ({ checklist }) =>
    checklist.length
      ? text(`${checklist.filter((item) => item.done).length} of ${checklist.length}`)
      : null,
}

function customCell(field: CustomField, task: TaskRow, { nameOf }: CellContext): Cell | null {
  const value = task.fields[field.id]
  if (value === undefined) return null
  switch (field.kind) {
    case 'number':
      return { kind: 'number', number: Number(value) }
    case 'money':
      return {
        kind: 'money',
        number: inUnits(Number(value), field.options.currency ?? 'GBP'),
      }
    case 'date':
      return date(String(value))
    default:
      return text(sayValue(field, value, nameOf))
  }
}

/** A task's value of a column; null where it has none. */
export function cellOf(
  column: { readonly field: string; readonly custom: CustomField | undefined },
  task: TaskRow,
  context: CellContext,
): Cell | null {
  if (column.custom) return customCell(column.custom, task, context)
  const stateId = enteredId(column.field)
  if (stateId !== null) return moment(context, task.stateDates[stateId] ?? null)
  return CELLS[column.field]?.(task, context) ?? null
}
