import { PRIORITIES, PRIORITY_NAMES, type Priority } from '#core/words.ts'
import { action } from './action.ts'

export const setPriority = action<'set-priority', { readonly to: Priority }>({
  kind: 'set-priority',
  name: 'Set priority',
  args: {
    to: {
      ...{ type: 'choice', label: 'Priority' },
      choices: PRIORITIES.map((value) => ({ value, name: PRIORITY_NAMES[value] })),
    },
  },
  blank: { to: 'urgent' },
  changes: ({ to }) => [{ place: 'task.changed:priority', to }],
  words: ({ to }) => `make it ${PRIORITY_NAMES[to].toLowerCase()}`,
})
