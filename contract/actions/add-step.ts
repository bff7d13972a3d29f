import { action } from './action.ts'

export const addStep = action<'add-step', { readonly text: string }>({
  kind: 'add-step',
  name: 'Add a step to its checklist',
  args: { text: { type: 'text', label: 'The step', most: 200 } },
  blank: { text: 'Call {client}' },
  words: ({ text }) => `add “${text}” to its checklist`,
})
