import { action, type Who } from './action.ts'

export const makeSubtask = action<'make-subtask', { readonly title: string; readonly who: Who }>({
  kind: 'make-subtask',
  name: 'Make a subtask',
  args: {
    title: { type: 'text', label: 'Title of the subtask', most: 200 },
    who: { type: 'who', label: 'Who' },
  },
  blank: { title: 'Check {task}', who: { is: 'assignees' } },
  changes: () => [{ place: 'task.made' }],
  words: ({ title, who }, say) => `make the subtask “${title}” for ${say.who(who)}`,
})
