import { Refusal } from '../refusal.ts'
import { span, type When } from '../query/when.ts'
import type { Calendar } from '../calendar/calendar.ts'
import { addDays, isoDate, toInstant } from '../calendar/dates.ts'
import type { IsoDate } from '../brands.ts'
import type { Field } from '../fields/field.ts'
import { FIELD_TYPES } from '../fields/types.ts'
import {
  isGroup,
  type Condition,
  type Fault,
  type Group,
  type Operand,
  type Test,
} from './condition.ts'

/** What tests mean, worked out once for both readings of them: in memory, and as SQL. */

/** When and by whom a condition is asked. */
export interface Now {
  /** The firm's day. */
  readonly today: IsoDate
  readonly zone: string
  readonly calendar: Calendar
  /** Who asks; null where nobody does, as in a rule. */
  readonly me: number | null
}

/** A test as it is to be decided. `not` is the opposite: what has no value is in it. */
export type Asked =
  | { readonly of: 'list'; readonly not: boolean; readonly list: readonly (string | number)[] }
  | { readonly of: 'words'; readonly not: boolean; readonly whole: boolean; readonly text: string }
  | { readonly of: 'filled'; readonly not: boolean }
  | { readonly of: 'amount'; readonly not: boolean; readonly by: Compare; readonly number: number }
  | { readonly of: 'truth'; readonly is: boolean }
  | { readonly of: 'day'; readonly by: 'within' | 'before' | 'after'; readonly when: When }
export type Compare = 'is' | 'at-least' | 'at-most' | 'above' | 'below'

const wrong = (field: Field, want: string): never => {
  throw new Refusal('bad-filter', `“${field.label}” needs ${want}.`)
}
const isValue = (each: unknown): each is string | number =>
  typeof each === 'string' || typeof each === 'number'

function listOf(field: Field, value: Operand | undefined): (string | number)[] {
  if (Array.isArray(value)) return value.filter(isValue)
  return isValue(value) ? [value] : wrong(field, 'a list of values')
}
const isWhen = (value: Operand | undefined): value is When =>
  typeof value === 'string' ||
  (typeof value === 'object' && !Array.isArray(value) && ('days' in value || 'period' in value))

type Read = (field: Field, test: Test, not: boolean) => Asked | null
/** How each type's operand is read; null for a test that names nothing yet, and asks nothing. */
const READ: Readonly<Record<(typeof FIELD_TYPES)[Field['type']]['operand'], Read>> = {
  list(field, { value }, not) {
    const list = listOf(field, value)
    return list.length ? { of: 'list', not, list } : null
  },
  text(field, { op, value }, not) {
    if (typeof value !== 'string') return wrong(field, 'some words')
    const whole = op === 'is' || op === 'is-not'
    return value === '' && !whole ? null : { of: 'words', not, whole, text: value }
  },
  amount(field, { op, value }, not) {
    if (typeof value !== 'number' || !Number.isFinite(value)) return wrong(field, 'a number')
    return { of: 'amount', not, by: op === 'is-not' ? 'is' : (op as Compare), number: value }
  },
  truth(field, { value }) {
    return typeof value === 'boolean' ? { of: 'truth', is: value } : wrong(field, 'yes or no')
  },
  day(field, { op, value }) {
    if (!isWhen(value)) return wrong(field, 'a date')
    if (typeof value === 'string') isoDate(value)
    return { of: 'day', by: op as 'within' | 'before' | 'after', when: value }
  },
}
const NEGATIVE: ReadonlySet<string> = new Set(['not-in', 'has-not', 'is-not', 'empty'])

/**
 * What a test of a field means. Nothing for one that names nothing yet.
 * @throws Refusal `bad-filter` for an operation or a value that does not fit the field
 */
export function asked(field: Field, test: Test): Asked | null {
  const type = FIELD_TYPES[field.type]
  if (!type.ops.some(({ op }) => op === test.op))
    throw new Refusal('bad-filter', `“${field.label}” cannot be asked like that.`)
  const not = NEGATIVE.has(test.op)
  if (test.op === 'filled' || test.op === 'empty') return { of: 'filled', not }
  return READ[type.operand](field, test, not)
}

/** The numbers of a list, whoever asks among them. */
export const listFor = (list: readonly (string | number)[], me: number | null) =>
  list.flatMap((each) => (each !== 'me' ? [each] : me === null ? [] : [me]))

/** The first day, or moment, that a date stands for, and the first one past it. */
export function boundsOf(
  when: When,
  moments: boolean,
  { today, calendar, zone }: Pick<Now, 'today' | 'calendar' | 'zone'>,
): { from: string | number; past: string | number } {
  const { first, last } = span(when, today, calendar)
  const next = addDays(last, 1)
  // Moments are asked about by the local day they fell on.
  return moments
    ? { from: toInstant(first, null, zone), past: toInstant(next, null, zone) }
    : { from: first, past: next }
}

/** Finds a field by its path; what it cannot find is gone, or was never there. */
export type Lookup = (path: string) => Field<'task'> | undefined

export const GONE = 'This field is not there any more; take it out, or choose another.'

/** A condition with its fields found; what cannot be asked is left out. */
export type Plan<T> =
  { readonly match: Group['match']; readonly of: readonly Plan<T>[] } | { readonly test: T }

/**
 * Goes through a condition; `each` makes of a test what is wanted, null leaves it out. A test that
 * it refuses is left out and named with its place, so that the rest still holds.
 */
export function planned<T>(
  condition: Condition,
  lookup: Lookup,
  each: (field: Field<'task'>, asked: Asked, test: Test) => T | null,
): { plan: Plan<T> | null; faults: readonly Fault[] } {
  const faults: Fault[] = []
  const one = (test: Test, place: string): Plan<T> | null => {
    try {
      const field = lookup(test.field)
      if (!field) throw new Refusal('field-gone', GONE)
      const means = asked(field as Field, test)
      const made = means && each(field, means, test)
      return made && { test: made }
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      faults.push({ place, detail: error.message })
      return null
    }
  }
  const walk = (at: Condition, place: string): Plan<T> | null =>
    isGroup(at)
      ? {
          match: at.match,
          of: at.of.flatMap((next, i) => walk(next, place ? `${place}.${i}` : String(i)) ?? []),
        }
      : one(at, place)
  return { plan: walk(condition, ''), faults }
}
