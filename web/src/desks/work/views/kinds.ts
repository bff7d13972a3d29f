import type { ViewKind } from '#contract/query.ts'

/** The ways to look at work, in the order they are offered. */
export const VIEW_KINDS_LIST: readonly { value: ViewKind; name: string }[] = [
  { value: 'list', name: 'List' },
  { value: 'board', name: 'Board' },
  { value: 'calendar', name: 'Calendar' },
  { value: 'timeline', name: 'Timeline' },
  { value: 'table', name: 'Table' },
]
