import { action } from './action.ts'

/** The steps of its checklist that are called so, in whatever letters; all of them, without a name. */
export const tick = action<'tick', { readonly title: string }>({
  kind: 'tick',
  name: 'Tick a step',
  args: { title: { type: 'text', label: 'Which step', most: 200, empty: 'all its steps' } },
  blank: { title: '' },
  changes: () => [{ place: 'step.changed' }],
  words: ({ title }) => (title ? `tick “${title}”` : 'tick all its steps'),
})
