import type { IsoDate } from '#core/brands.ts'
import { readMoney } from '#core/money/money.ts'
import { readDate, readMinutes, readNumber, readWhen } from '#core/text/read.ts'
import { customId, type Choice, type CustomField, type FieldType } from '#contract/fields.ts'
import type { TaskPatch, TaskRow } from '#contract/tasks.ts'
import { choicesFor, customOf, editFor, isSettable, specOf } from './fields.ts'
import type { Known } from './known.ts'
import { TASK_FIELDS_HERE, type Value } from './task-fields.ts'

/** One text that is to become the value of a field. */
interface Cell {
  readonly field: string
  readonly words: string
  readonly known: Known
  readonly task: TaskRow | undefined
  readonly own: CustomField | undefined
  /** @throws Error that says what would be right */
  readonly bad: (want: string) => never
}
type Read = (cell: Cell) => TaskPatch

/** The edit that puts a value in the cell's field. */
const put = ({ field }: Cell, value: string | number | boolean | null): TaskPatch => {
  const id = customId(field)
  return (id === null ? { [field]: value } : { fields: { [id]: value } }) as TaskPatch
}

const A_DATE = 'a date, such as 3 Dec, fri or 3/12/2026'
const A_LENGTH = 'a length of time, such as 90 or 1h 30m'

const text: Read = (cell) => {
  if (cell.field !== 'title') return put(cell, cell.words || null)
  return cell.words ? { title: cell.words.slice(0, 200) } : cell.bad('a title')
}

const date: Read = (cell) => {
  const { field, words, known, bad } = cell
  const today = known.today as IsoDate
  if (words === '') return put(cell, null)
  if (field !== 'due') return put(cell, readDate(words, today) ?? bad(A_DATE))
  const when = readWhen(words, today) ?? bad(A_DATE)
  return { due: when.date, ...(when.time && { dueTime: when.time }) }
}

const minutes: Read = ({ words, bad }) => ({
  estimate: words === '' ? null : (readMinutes(words, true) ?? bad(A_LENGTH)),
})

const number: Read = (cell) =>
  put(cell, cell.words === '' ? null : (readNumber(cell.words) ?? cell.bad('a number')))

const money: Read = (cell) => {
  const { words, own, bad } = cell
  const currency = own?.options.currency ?? 'GBP'
  return put(cell, words === '' ? null : (readMoney(words, currency) ?? bad('a number')))
}

const flag: Read = (cell) => {
  if (/^(yes|y|true|1|✓|x)$/i.test(cell.words)) return put(cell, true)
  return /^(no|n|false|0|)$/i.test(cell.words) ? put(cell, false) : cell.bad('yes or no')
}

const listed = (choices: readonly Choice[], most: number): string =>
  choices
    .slice(0, most)
    .map((choice) => choice.name)
    .join(', ')

/** The choice of a name, or of the beginning of one that is clear. */
function namedChoice({ field, known, task, bad }: Cell, name: string): Value {
  const choices = choicesFor(known, field, task)
  const key = name.trim().toLowerCase()
  const same = choices.filter((choice) => choice.name.toLowerCase() === key)
  const close = same.length
    ? same
    : choices.filter((choice) => choice.name.toLowerCase().startsWith(key))
  const [first, other] = close
  if (first && !other) return first.value
  if (first) return bad(`clear: ${listed(close, 3)}`)
  return TASK_FIELDS_HERE[field]?.alias?.(known, key) ?? bad(`one of: ${listed(choices, 6)}`)
}

const choice: Read = (cell) => {
  const { field, words } = cell
  const setAll = TASK_FIELDS_HERE[field]?.setAll
  if (!setAll) return editFor(field, words === '' ? null : namedChoice(cell, words)) ?? {}
  return setAll(
    words === '' ? [] : words.split(/[,;]/).map((name) => Number(namedChoice(cell, name))),
  )
}

const READ: Readonly<Partial<Record<FieldType, Read>>> = {
  ...{ text, link: text, date, minutes, number, money, flag },
  ...{ people: choice, choice },
}

/** A cell's text as an edit of a field. @throws Error that says what would be right */
export function readCell(known: Known, field: string, typed: string, task?: TaskRow): TaskPatch {
  const words = typed.trim()
  const spec = specOf(known, field)
  if (!spec || !isSettable(field)) return {}
  const bad = (want: string): never => {
    throw new Error(`${spec.name}: “${words.slice(0, 40)}” is not ${want}.`)
  }
  return READ[spec.type]?.({ field, words, known, task, own: customOf(known, field), bad }) ?? {}
}

/** Two edits of one task as one. */
export const joined = (a: TaskPatch, b: TaskPatch): TaskPatch => ({
  ...a,
  ...b,
  ...((a.fields ?? b.fields) && { fields: { ...a.fields, ...b.fields } }),
})
