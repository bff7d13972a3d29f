import type { State } from '#contract/words.ts'
import type { Priority } from '#contract/words.ts'

/** Choices as the interface offers them. */
export const STATE_LIST: readonly { value: State; name: string }[] = [
  { value: 'not-started', name: 'Not started' },
  { value: 'under-way', name: 'Under way' },
  { value: 'waiting', name: 'Waiting' },
  { value: 'in-review', name: 'In review' },
  { value: 'done', name: 'Done' },
  { value: 'dropped', name: 'Dropped' },
]
export const PRIORITY_LIST: readonly { value: Priority; name: string }[] = [
  { value: 'low', name: 'Low' },
  { value: 'normal', name: 'Normal' },
  { value: 'high', name: 'High' },
  { value: 'urgent', name: 'Urgent' },
]
export const ROLL_LIST = [
  { value: 'none', name: 'stays there' },
  { value: 'following', name: 'moves to the next working day' },
  { value: 'preceding', name: 'moves to the working day before' },
  { value: 'modified-following', name: 'moves on, but not into the next month' },
  { value: 'modified-preceding', name: 'moves back, but not into the month before' },
] as const
