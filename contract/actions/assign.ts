import { action, type Who } from './action.ts'

export const assign = action<'assign', { readonly who: Who }>({
  kind: 'assign',
  name: 'Assign to',
  args: { who: { type: 'who', label: 'Who' } },
  blank: { who: { is: 'lead' } },
  changes: () => [{ place: 'task.changed:assignee' }, { place: 'task.given' }],
  words: ({ who }, say) => `assign it to ${say.who(who)}`,
})
