import { action } from './action.ts'

export const comment = action<'comment', { readonly text: string }>({
  kind: 'comment',
  name: 'Comment on it',
  args: { text: { type: 'text', label: 'What to say', most: 500 } },
  blank: { text: 'Look at {task} for {client}' },
  changes: () => [{ place: 'comment.made' }],
  words: ({ text }) => `comment “${text}”`,
})
