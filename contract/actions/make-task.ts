import { action, type Who } from './action.ts'

export const makeTask = action<'make-task', { readonly title: string; readonly who: Who }>({
  kind: 'make-task',
  name: 'Make a task',
  needs: 'any',
  args: {
    title: { type: 'text', label: 'Title of the task', most: 200 },
    who: { type: 'who', label: 'Who' },
  },
  blank: { title: 'Call about {task}, {client}', who: { is: 'owner' } },
  changes: () => [{ place: 'task.made' }],
  words: ({ title, who }, say) => `make the task “${title}” for ${say.who(who)}`,
})
