import { trigger } from './trigger.ts'

/**
 * It comes when what the rule asks begins to hold of an open task: by a change, or because a day
 * begins or a due time passes. Once it held, it comes again only after it did not.
 */
export const becomesTrue = trigger<'becomes-true', object>({
  kind: 'becomes-true',
  name: 'what is asked becomes true of a task',
  args: {},
  blank: {},
  that: true,
  words: () => 'it becomes true of a task',
})
