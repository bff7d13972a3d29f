import { STATE_NAMES, STATES, type State } from '#core/words.ts'
import { action } from './action.ts'

export const setState = action<'set-state', { readonly to: State }>({
  kind: 'set-state',
  name: 'Set the kind of state',
  args: {
    to: {
      ...{ type: 'choice', label: 'Kind of state' },
      choices: STATES.map((value) => ({ value, name: STATE_NAMES[value] })),
    },
  },
  blank: { to: 'under-way' },
  changes: ({ to }) => [
    { place: 'task.changed:kind', to },
    { place: 'task.changed:state' },
    ...(to === 'done' || to === 'dropped' ? [{ place: 'task.changed:closed' }] : []),
  ],
  words: ({ to }) => `make it ${STATE_NAMES[to].toLowerCase()}`,
})
