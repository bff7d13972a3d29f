import { action, type Who } from './action.ts'

export const addPeople = action<'add-people', { readonly who: Who }>({
  kind: 'add-people',
  name: 'Add to it',
  args: { who: { type: 'who', label: 'Who' } },
  blank: { who: { is: 'lead' } },
  changes: () => [{ place: 'task.changed:assignee' }, { place: 'task.given' }],
  words: ({ who }, say) => `put ${say.who(who)} on it as well`,
})
