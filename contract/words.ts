/** Lists of words that both sides choose from; free of schemas, so that the interface can carry them. */

/** The kinds of state; a firm's own named states are each of one kind. */
export const STATES = ['not-started', 'under-way', 'waiting', 'in-review', 'done', 'dropped'] as const
export type State = (typeof STATES)[number]
/** The kinds as they are said. */
export const STATE_NAMES: Readonly<Record<State, string>> = {
  'not-started': 'Not started',
  'under-way': 'Under way',
  waiting: 'Waiting',
  'in-review': 'In review',
  done: 'Done',
  dropped: 'Dropped',
}

export const PRIORITIES = ['low', 'normal', 'high', 'urgent'] as const
export type Priority = (typeof PRIORITIES)[number]
export const PRIORITY_NAMES: Readonly<Record<Priority, string>> = { low: 'Low', normal: 'Normal', high: 'High', urgent: 'Urgent' }

/** What conditions of a rule on tasks may ask about. */
export const FACTS = ['priority', 'state', 'client', 'client tier', 'project', 'estimate', 'assignees'] as const
