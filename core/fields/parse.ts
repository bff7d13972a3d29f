import type { IsoDate } from '../brands.ts'
import { workDay } from '../calendar/dates.ts'
import { readMoney } from '../money/money.ts'
import { refuse } from '../refusal.ts'
import { richText } from '../text/rich.ts'
import { readMinutes, readNumber } from '../text/read.ts'
import { readDate, readWhen } from '../text/read-date.ts'
import type { Field } from './field.ts'
import { FIELD_TYPES, isMany, type Choice, type FieldType } from './types.ts'

/** What people type, and what edits hold, as values of fields. */

/** A value as an edit holds it: a number of a thing rather than the thing, a list where several. */
export type Plain = string | number | boolean | null
export type Edit = Readonly<Record<string, unknown>>

/** The edit of a task that sets a field. */
export function editOf(field: Field<'task'>, value: Plain | readonly Plain[]): Edit {
  const { name, key, custom } = field
  if (custom !== undefined) return { fields: { [custom]: value } }
  return key === undefined ? { values: { [name]: value } } : { [key]: value }
}

/** Fields of an edit that are kept together under one name. */
const TOGETHER = ['fields', 'values'] as const
/** Two edits of one task as one. */
export function joined<E extends object>(a: E, b: E): E {
  const [first, second] = [a as unknown as Edit, b as unknown as Edit]
  const both: Record<string, unknown> = { ...first, ...second }
  for (const name of TOGETHER)
    if (first[name] && second[name])
      both[name] = { ...(first[name] as object), ...(second[name] as object) }
  return both as E
}

interface Kept {
  /** What it takes, as a refusal says it. */
  readonly takes: string
  readonly fits: (value: string | number | boolean, field: Field<'task'>) => boolean
}
const isText = (value: unknown): value is string => typeof value === 'string'
const isId = (value: unknown): boolean => Number.isSafeInteger(value) && Number(value) > 0
const numbered: Kept = { takes: 'something that is here', fits: isId }
/** What values of each type are like. */
const KEPT: Readonly<Record<FieldType, Kept>> = {
  text: { takes: 'text of at most 2,000 letters', fits: (v) => isText(v) && v.length <= 2_000 },
  rich: { takes: 'text', fits: isText },
  words: { takes: 'words', fits: isText },
  link: {
    takes: 'an address that begins with http:// or https://',
    fits: (value) => isText(value) && /^https?:\/\/[^\s]+$/i.test(value) && value.length <= 2_000,
  },
  number: { takes: 'a number', fits: (v) => typeof v === 'number' && Number.isFinite(v) },
  minutes: {
    takes: 'whole minutes, 0 to 60,000',
    fits: (v) => Number.isInteger(v) && Number(v) >= 0 && Number(v) <= 60_000,
  },
  money: { takes: 'an amount in whole minor units', fits: (v) => Number.isSafeInteger(v) },
  date: { takes: 'a date written YYYY-MM-DD', fits: (v) => isText(v) && isDay(v) },
  moment: { takes: 'a moment', fits: (v) => Number.isSafeInteger(v) },
  'yes-no': { takes: 'yes or no', fits: (v) => typeof v === 'boolean' || v === 0 || v === 1 },
  choice: {
    takes: 'one of its choices',
    fits: (value, { choices }) => choices?.some((choice) => choice.value === value) === true,
  },
  person: { takes: 'a person who is here', fits: isId },
  ...{ state: numbered, item: numbered, people: numbered, tags: numbered },
}
function isDay(text: string): boolean {
  try {
    return workDay(text) !== undefined
  } catch {
    return false
  }
}

const clipped = (value: Plain): string => String(value).slice(0, 40)

/**
 * A value as a field keeps it; nothing where it is emptied.
 * @throws Refusal `bad-value` that says what would be right
 */
export function keptValue(field: Field<'task'>, value: Plain): Exclude<Plain, null> | null {
  if (value === null || value === '') return null
  const { takes, fits } = KEPT[field.type]
  if (!fits(value, field))
    refuse('bad-value', `“${field.label}” takes ${takes}, not “${clipped(value)}”.`, field.name)
  return value
}

/** What is read against: the firm's day, and what there is to choose from. */
export interface Reading {
  readonly today: string
  readonly choices: readonly Choice[]
  /** A choice by another name than its own, in lower case. */
  readonly alias?: (name: string) => string | number | undefined
}
/** One text that is to become the value of a field. */
interface Cell extends Reading {
  readonly field: Field<'task'>
  readonly words: string
  /** @throws Error that says what would be right */
  readonly bad: (want: string) => never
}
type Parse = (cell: Cell) => Edit

const set = ({ field }: Cell, value: Plain | readonly Plain[]): Edit => editOf(field, value)
const A_DATE = 'a date, such as 3 Dec, fri or 3/12/2026'
const A_LENGTH = 'a length of time, such as 90 or 1h 30m'

const text: Parse = (cell) => {
  const { field, words, bad } = cell
  if (field.needed)
    return words ? set(cell, words.slice(0, 200)) : bad(`a ${field.label.toLowerCase()}`)
  return set(cell, words || null)
}
const date: Parse = (cell) => {
  const { field, words, bad } = cell
  const today = cell.today as IsoDate
  if (words === '') return set(cell, null)
  if (!field.time) return set(cell, readDate(words, today) ?? bad(A_DATE))
  const when = readWhen(words, today) ?? bad(A_DATE)
  return { ...set(cell, when.date), ...(when.time && { [field.time.key]: when.time }) }
}
/** What is read as one value, or is refused. */
const oneOf =
  (want: string, read: (cell: Cell) => Plain): Parse =>
  (cell) =>
    set(cell, cell.words === '' ? null : (read(cell) ?? cell.bad(want)))

const truth: Parse = (cell) => {
  if (/^(yes|y|true|1|✓|x)$/i.test(cell.words)) return set(cell, true)
  return /^(no|n|false|0|)$/i.test(cell.words) ? set(cell, false) : cell.bad('yes or no')
}

const listed = (choices: readonly Choice[], most: number): string =>
  choices
    .slice(0, most)
    .map((choice) => choice.name)
    .join(', ')

/** The choice of a name, or of the beginning of one that is clear. */
function named({ choices, alias, bad }: Cell, name: string): string | number {
  const key = name.trim().toLowerCase()
  const same = choices.filter((choice) => choice.name.toLowerCase() === key)
  const close = same.length
    ? same
    : choices.filter((choice) => choice.name.toLowerCase().startsWith(key))
  const [first, other] = close
  if (first && !other) return first.value
  if (first) return bad(`clear: ${listed(close, 3)}`)
  return alias?.(key) ?? bad(`one of: ${listed(choices, 6)}`)
}
const choice: Parse = (cell) => {
  const { field, words } = cell
  if (isMany(field.type))
    return set(cell, words === '' ? [] : words.split(/[,;]/).map((name) => named(cell, name)))
  if (words !== '') return set(cell, named(cell, words))
  if (!field.needed) return set(cell, null)
  return field.fallback === undefined ? {} : set(cell, field.fallback)
}

const PARSE: Readonly<Partial<Record<FieldType, Parse>>> = {
  rich: (cell) => (cell.words === '' ? {} : set(cell, richText(cell.words))),
  ...{ text, link: text, date, choice, 'yes-no': truth },
  ...{ state: choice, item: choice, person: choice, people: choice, tags: choice },
  minutes: oneOf(A_LENGTH, ({ words }) => readMinutes(words, true)),
  number: oneOf('a number', ({ words }) => readNumber(words)),
  money: oneOf('a number', ({ words, field }) => readMoney(words, field.currency ?? 'GBP')),
}

/** A text as an edit of a field. @throws Error that says what would be right */
export function parseEdit(field: Field<'task'>, typed: string, reading: Reading): Edit {
  const words = typed.trim()
  const bad = (want: string): never => {
    throw new Error(`${field.label}: “${words.slice(0, 40)}” is not ${want}.`)
  }
  return PARSE[field.type]?.({ ...reading, field, words, bad }) ?? {}
}

/** Whether a type's values are chosen rather than written. */
export const isChosen = (type: FieldType): boolean =>
  FIELD_TYPES[type].operand === 'list' || type === 'yes-no'
