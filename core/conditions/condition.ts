import type { When } from '../query/when.ts'
import type { Op } from '../fields/types.ts'

/** The one language of conditions: what filters, saved views and rules ask of items. */

/** What a test compares with: one value, a list, or a date relative to now. */
export type Operand = string | number | boolean | readonly (string | number)[] | When
/**
 * One test of a field. The field may be reached through what a task belongs to (`client.tier`), and
 * in a rule may be what it was before the change (`was:state`). In a list, `me` is whoever asks.
 */
export interface Test {
  readonly field: string
  readonly op: Op
  readonly value?: Operand
}
/** Tests and groups of which all, any or none must hold; an empty one holds. */
export interface Group {
  readonly match: 'all' | 'any' | 'none'
  readonly of: readonly Condition[]
}
export type Condition = Group | Test

export const isGroup = (condition: Condition): condition is Group => 'match' in condition

/** What of a condition cannot be asked, and where it stands in it: the rest holds. */
export interface Fault {
  readonly place: string
  readonly detail: string
}

/** The tests of a condition, wherever they stand. */
export function* testsOf(condition: Condition): Generator<Test> {
  if (!isGroup(condition)) yield condition
  else for (const each of condition.of) yield* testsOf(each)
}
