import { action, type Who } from './action.ts'

export const follow = action<'follow', { readonly who: Who }>({
  kind: 'follow',
  name: 'Add as a follower',
  args: { who: { type: 'who', label: 'Who' } },
  blank: { who: { is: 'lead' } },
  changes: () => [{ place: 'task.changed:follower' }],
  words: ({ who }, say) => `add ${say.who(who)} as a follower`,
})
