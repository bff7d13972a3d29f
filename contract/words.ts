/** Lists of words that both sides choose from; free of schemas, so that the interface can carry them. */

/** The kinds of state; a firm's own named states are each of one kind. */
export const STATES = ['not-started', 'under-way', 'waiting', 'in-review', 'done', 'dropped'] as const
export type State = (typeof STATES)[number]

export const PRIORITIES = ['low', 'normal', 'high', 'urgent'] as const
export type Priority = (typeof PRIORITIES)[number]

/** What conditions of a rule on tasks may ask about. */
export const FACTS = ['priority', 'state', 'client', 'client tier', 'project', 'estimate', 'assignees'] as const
