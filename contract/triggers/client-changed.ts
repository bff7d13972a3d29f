import { sayChange, type Change } from './change.ts'
import { trigger } from './trigger.ts'

export const clientChanged = trigger<'client-changed', Change>({
  kind: 'client-changed',
  name: 'a field of a client changes',
  about: 'client',
  args: {
    field: { type: 'field', label: 'Which field', of: 'client' },
    from: { type: 'values', label: 'From what', of: 'field' },
    to: { type: 'values', label: 'To what', of: 'field' },
  },
  blank: { field: 'client.tier', from: [], to: [] },
  words: (change, say) => sayChange(change, '', say),
})
