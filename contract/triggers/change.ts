import type { Say } from '../actions/action.ts'

/** A change of a field that a rule waits for; none of either for whatever. */
export interface Change {
  readonly field: string
  readonly from?: readonly (string | number)[]
  readonly to: readonly (string | number)[]
}
/** “state of a task becomes Waiting”, “tier of a client changes from Silver”. */
export function sayChange({ field, from = [], to }: Change, of: string, say: Say): string {
  const before = from.length ? ` from ${say.values(field, from)}` : ''
  const what = [say.field(field), of].filter(Boolean).join(' ')
  return to.length
    ? `${what} becomes ${say.values(field, to)}${before && `,${before}`}`
    : `${what} changes${before}`
}
