import { action, type Who } from './action.ts'

export const follow = action<'follow', { readonly who: Who }>({
  kind: 'follow',
  name: 'Let follow it',
  args: { who: { type: 'who', label: 'Who' } },
  blank: { who: { is: 'lead' } },
  words: ({ who }, say) => `let ${say.who(who)} follow it`,
})
