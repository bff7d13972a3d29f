import type { IsoDate, LocalTime } from '#core/brands.ts'
import { isoDate, localTime, toLocal } from '#core/calendar/dates.ts'
import type { Field } from '#core/fields/field.ts'
import { sayOf, type Saying } from '#core/fields/say.ts'
import type { FieldType } from '#core/fields/types.ts'
import { inUnits } from '#core/money/money.ts'
import type { TaskRow } from '#contract/tasks.ts'

/** A cell: text, a number with what it counts, or a date. */
export type Cell =
  | { readonly kind: 'text'; readonly text: string }
  | { readonly kind: 'number' | 'hours' | 'money'; readonly number: number }
  | { readonly kind: 'date'; readonly date: IsoDate; readonly time: LocalTime | null }

const day = (date: string, time: string | null): Cell => ({
  ...{ kind: 'date', date: isoDate(date) },
  time: time === null ? null : localTime(time),
})

type Tell = (value: number | string, field: Field<'task'>, task: TaskRow, at: Saying) => Cell
/** How values of each type leave, where not in words. */
const CELLS: Readonly<Partial<Record<FieldType, Tell>>> = {
  number: (value) => ({ kind: 'number', number: Number(value) }),
  /** Minutes as hours, to the hundredth. */
  minutes: (value) => ({ kind: 'hours', number: Math.round((Number(value) / 60) * 100) / 100 }),
  money: (value, { currency = 'GBP' }) => ({
    ...{ kind: 'money', number: inUnits(Number(value), currency) },
  }),
  date: (value, field, task) => day(String(value), field.time?.read(task) ?? null),
  moment(value, _, __, { zone }) {
    const { date, time } = toLocal(Number(value), zone)
    return day(date, time)
  },
}

/** A task's value of a field; null where it has none. */
export function cellOf(field: Field<'task'>, task: TaskRow, at: Saying): Cell | null {
  const value = field.read(task, at)
  if (value === null) return null
  const tell = CELLS[field.type]
  // A number that is said in its own words (“2 of 3”, “#12”) is text, but for the number of a task.
  const said = field.say !== undefined && field.name !== 'id'
  if (tell && !said && (typeof value === 'number' || typeof value === 'string'))
    return tell(value, field, task, at)
  const text = wholeName(field, value) ?? sayOf(field, task, at)
  return text ? { kind: 'text', text } : null
}
/** A file tells a thing by its whole name, where lists have a short one. */
const wholeName = ({ type }: Field<'task'>, value: unknown): string | undefined =>
  type === 'item' && typeof value === 'object' && value !== null && 'name' in value
    ? String(value.name)
    : undefined
