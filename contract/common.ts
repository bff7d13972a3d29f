import Joi from 'joi'
import { FIRST_DAY, LAST_DAY } from '#core/calendar/dates.ts'

/** Pieces that the shapes of every area use. */
export const id = Joi.number().integer().positive()
/** Up to 500 numbers as they stand in an address. */
export const idList = Joi.string()
  .pattern(/^\d{1,15}(,\d{1,15}){0,499}$/)
  .messages({
    'string.pattern.base': '{{#label}} must be up to 500 numbers with commas between them',
  })
export const line = (most: number) => Joi.string().trim().min(1).max(most)
/**
 * Whether two of a list are called the same, in whatever letters: for lists whose words are there once.
 * They come as they were sent, before anything looked at them.
 */
export const alikeBy =
  (name: string) =>
  (a: unknown, b: unknown): boolean => {
    const said = (of: unknown): unknown =>
      typeof of === 'object' && of !== null
        ? Object.entries(of).find(([key]) => key === name)?.[1]
        : null
    const [one, other] = [said(a), said(b)]
    return (
      typeof one === 'string' &&
      typeof other === 'string' &&
      one.toLowerCase() === other.toLowerCase()
    )
  }
/** A date of work: what is not a day of any calendar is told apart by whoever reads it. */
export const isoDay = Joi.string()
  .pattern(/^\d{4}-\d{2}-\d{2}$/)
  .custom((date: string, helpers) =>
    date < FIRST_DAY || date > LAST_DAY ? helpers.error('any.far') : date,
  )
  .messages({
    'string.pattern.base': '{{#label}} must be a date, written year, month, day: 2026-12-31',
    'any.far': '{{#label}} must lie between 1970 and 2200, as all dates of work do',
  })
/** The value of a field, as an edit holds it; null empties it. */
export const fieldValue = Joi.alternatives(
  Joi.string().allow('').max(2_000),
  Joi.number(),
  Joi.boolean(),
  Joi.valid(null),
)
/** Values of the firm's own fields, by number. */
export const fieldValues = Joi.object().pattern(/^\d{1,15}$/, fieldValue)
export const isoTime = Joi.string()
  .pattern(/^([01]\d|2[0-3]):[0-5]\d$/)
  .messages({ 'string.pattern.base': '{{#label}} must be a time of day, such as 09:30 or 17:00' })

/**
 * The schema of a type: each of its fields has one, and nothing else does, or this does not compile.
 * What has passed the schema is of the type, all the way from the edge to the service.
 */
export const shape = <T extends object>(fields: {
  readonly [Field in keyof Required<T>]: Joi.Schema
}): Joi.ObjectSchema<T> => Joi.object<T>(fields)

/** How deep braces and brackets of any JSON that comes in may stand in each other. */
export const DEEPEST = 40
/** As many values as any JSON that comes in may hold, all told. */
export const MOST_VALUES = 300_000
/**
 * Whether JSON is nested too deep, or holds too many values; looked at before anything walks
 * through it. Null: neither.
 */
export function measured(json: string): 'deep' | 'many' | null {
  let [depth, values] = [0, 0]
  for (let i = 0; i < json.length; i++) {
    const letter = json[i]
    if (letter === '"') i = endOfText(json, i)
    else if (letter === '{' || letter === '[') {
      if (++depth > DEEPEST) return 'deep'
    } else if (letter === '}' || letter === ']') depth--
    else if (letter === ',' && ++values > MOST_VALUES) return 'many'
  }
  return null
}
/** Where a text that begins at a quotation mark ends. */
function endOfText(json: string, from: number): number {
  for (let i = from + 1; i < json.length; i++)
    if (json[i] === '\\') i++
    else if (json[i] === '"') return i
  return json.length
}

/** Switches something on or off. */
export const switchBody = shape<{ on: boolean }>({ on: Joi.boolean().required() })

/** Somebody, as other things mention them. */
export interface PersonRef {
  readonly id: number
  readonly name: string
}

/** RFC 9457 problem details, as every error of the API is answered. */
export interface Problem {
  readonly type: string
  readonly title: string
  readonly status: number
  readonly detail: string
  readonly code: string
  /** The field, line or thing it is about. */
  readonly place?: string
  readonly errors?: readonly { place: string; detail: string }[]
  readonly mine?: unknown
  readonly theirs?: unknown
}
