import { action, type Who } from './action.ts'

export const takeOff = action<'take-off', { readonly who: Who }>({
  kind: 'take-off',
  name: 'Take off it',
  args: { who: { type: 'who', label: 'Who' } },
  blank: { who: { is: 'assignees' } },
  changes: () => [{ place: 'task.changed:assignee' }],
  words: ({ who }, say) => `take ${say.who(who)} off it`,
})
