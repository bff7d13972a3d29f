import {
  calendar,
  ROLLS,
  type Calendar,
  type CalendarInput,
  type Roll,
} from '../calendar/calendar.ts'
import { quote } from '../calendar/dates.ts'
import { refuse } from '../refusal.ts'

/** One line of input, parsed but not trusted. */
export type Line = Readonly<Record<string, unknown>>

export const record = (value: unknown, place: string): Line =>
  typeof value === 'object' && value !== null && !Array.isArray(value)
    ? (value as Line)
    : refuse('bad-input', `${place}: expected an object, found ${quote(value)}.`, place)

export const text = (value: unknown, place: string): string =>
  typeof value === 'string'
    ? value
    : refuse('bad-input', `${place}: expected text, found ${quote(value)}.`, place)

export function whole(value: unknown, place: string, low: number, high: number): number {
  if (typeof value === 'number' && Number.isInteger(value) && value >= low && value <= high)
    return value
  return refuse(
    'bad-number',
    `${place}: expected a whole number from ${low} to ${high}, found ${quote(value)}.`,
    place,
  )
}

export function list(value: unknown, place: string): readonly unknown[] {
  if (value === undefined || value === null) return []
  return Array.isArray(value)
    ? (value as unknown[])
    : refuse('bad-input', `${place}: expected a list, found ${quote(value)}.`, place)
}

export function oneOf<T extends string>(value: unknown, options: readonly T[], place: string): T {
  return options.includes(value as T)
    ? (value as T)
    : refuse(
        'bad-input',
        `${place}: ${quote(value)} is not known; use ${options.join(', ')}.`,
        place,
      )
}

export const roll = (value: unknown): Roll | undefined =>
  value === undefined || value === null ? undefined : oneOf(value, ROLLS, 'roll')

export const calendarOf = (value: unknown, place = 'calendar'): Calendar =>
  calendar(
    value === undefined || value === null ? {} : (record(value, place) as CalendarInput),
    place,
  )
