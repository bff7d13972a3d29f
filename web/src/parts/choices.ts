import {
  PRIORITIES,
  PRIORITY_NAMES,
  STATE_NAMES,
  STATES,
  type Priority,
  type State,
} from '#contract/words.ts'

/** Choices as the interface offers them. */
export const STATE_LIST: readonly { value: State; name: string }[] = STATES.map((value) => ({
  value,
  name: STATE_NAMES[value],
}))
export const PRIORITY_LIST: readonly { value: Priority; name: string }[] = PRIORITIES.map(
  (value) => ({ value, name: PRIORITY_NAMES[value] }),
)
/** Things with names to choose one from in a field, with a way to choose none of them. */
export const withNone = <N extends number | string | null = null>(
  list: readonly { id: number; name: string }[],
  none: string,
  value: N = null as N,
): { value: number | N; title: string }[] => [
  { value, title: none },
  ...list.map(({ id, name }) => ({ value: id, title: name })),
]
export const PERIOD_LIST = [
  { value: 'week', name: 'week' },
  { value: 'month', name: 'month' },
  { value: 'quarter', name: 'quarter' },
  { value: 'year', name: 'year' },
] as const
export const ROLL_LIST = [
  { value: 'none', name: 'stays there' },
  { value: 'following', name: 'moves to the next working day' },
  { value: 'preceding', name: 'moves to the working day before' },
  { value: 'modified-following', name: 'moves on, but not into the next month' },
  { value: 'modified-preceding', name: 'moves back, but not into the month before' },
] as const
