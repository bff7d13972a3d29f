import { leaf, type Sheet } from './calendar-days.ts'
import type { Bar, Lying } from './lanes.ts'
import { daysBetween, plusDays } from './span.ts'

/** How keys go about on a calendar sheet: from day to day, and down each day to what lies on it. */

/** Where the keys are: on a day, or on what lies there: a task, or what says how many more do. */
export interface Spot {
  readonly day: string
  readonly on: number | 'more' | null
}
interface Week<T extends Lying & { readonly id: number }> {
  readonly first: string
  readonly bars: readonly Bar<T>[]
  readonly more: readonly number[]
}
export interface Laid<T extends Lying & { readonly id: number }> {
  readonly sheet: Sheet
  readonly weeks: readonly Week<T>[]
  /** Days in a row. */
  readonly width: number
}
type Task = Lying & { readonly id: number }

const columnOf = (first: string, day: string) => daysBetween(first, day)
const weekOf = <T extends Task>({ weeks, width }: Laid<T>, day: string) =>
  weeks.findIndex(({ first }) => day >= first && day < plusDays(first, width))
const covers = <T>({ from, span }: Bar<T & Lying>, column: number) =>
  column >= from && column < from + span
/** What one comes to on a day from its top down. */
function downOf<T extends Task>(week: Week<T>, day: string): Spot['on'][] {
  const column = columnOf(week.first, day)
  const bars = week.bars.filter((bar) => covers(bar, column)).sort((a, b) => a.lane - b.lane)
  return [null, ...bars.map(({ item }) => item.id), ...(week.more[column] ? ['more' as const] : [])]
}
function upOrDown<T extends Task>(laid: Laid<T>, { day, on }: Spot, by: 1 | -1): Spot | null {
  const at = weekOf(laid, day)
  const week = laid.weeks[at]
  if (!week) return null
  const here = downOf(week, day)
  const next = here[here.indexOf(on) + by]
  if (next !== undefined) return { day, on: next }
  const [other, there] = [laid.weeks[at + by], plusDays(day, 7 * by)]
  if (!other) return null
  return { day: there, on: by > 0 ? null : downOf(other, there).at(-1)! }
}
/** To what lies in the same lane beside it, or above that; a task that goes on is left behind. */
function aside<T extends Task>(laid: Laid<T>, { day, on }: Spot, by: 1 | -1): Spot {
  const week = laid.weeks[weekOf(laid, day)]
  const bar = week?.bars.find(({ item }) => item.id === on)
  if (!week || !bar) return { day: plusDays(day, by), on: null }
  const column = by > 0 ? bar.from + bar.span : bar.from - 1
  const to = plusDays(week.first, column)
  const beside = week.bars
    .filter((each) => covers(each, column) && each.lane <= bar.lane)
    .sort((a, b) => b.lane - a.lane)[0]
  return { day: to, on: beside?.item.id ?? null }
}

const AFTER: Readonly<Record<string, <T extends Task>(laid: Laid<T>, at: Spot) => Spot | null>> = {
  ArrowUp: (laid, at) => upOrDown(laid, at, -1),
  ArrowDown: (laid, at) => upOrDown(laid, at, 1),
  ArrowLeft: (laid, at) => aside(laid, at, -1),
  ArrowRight: (laid, at) => aside(laid, at, 1),
  PageUp: ({ sheet }, { day }) => ({ day: leaf(sheet, day, -1), on: null }),
  PageDown: ({ sheet }, { day }) => ({ day: leaf(sheet, day, 1), on: null }),
  Home: (laid, { day }) => endOf(laid, day, 0),
  End: (laid, { day }) => endOf(laid, day, laid.width - 1),
}
/** The first or the last day of a row. */
function endOf<T extends Task>(laid: Laid<T>, day: string, column: number): Spot | null {
  const week = laid.weeks[weekOf(laid, day)]
  return week ? { day: plusDays(week.first, column), on: null } : null
}

/** Where a key leads from a spot, maybe onto another sheet; null where it leads nowhere. */
export const spotAfter = <T extends Task>(laid: Laid<T>, at: Spot, key: string): Spot | null =>
  AFTER[key]?.(laid, at) ?? null
