import { action, type Who } from './action.ts'

export const unshare = action<'unshare', { readonly who: Who }>({
  kind: 'unshare',
  name: 'Share it no more with',
  needs: 'project',
  args: { who: { type: 'who', label: 'Who' } },
  blank: { who: { is: 'contacts' } },
  words: ({ who }, say) => `share the project with ${say.who(who)} no more`,
})
