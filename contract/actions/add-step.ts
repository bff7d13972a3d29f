import { action } from './action.ts'

export const addStep = action<'add-step', { readonly title: string }>({
  kind: 'add-step',
  name: 'Add a step to its checklist',
  args: { title: { type: 'text', label: 'The step', most: 200 } },
  blank: { title: 'Call {client}' },
  changes: () => [{ place: 'step.changed' }],
  words: ({ title }) => `add “${title}” to its checklist`,
})
