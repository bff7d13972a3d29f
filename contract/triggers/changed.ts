import { sayChange } from './change.ts'
import { trigger } from './trigger.ts'

export const changed = trigger<
  'changed',
  {
    readonly field: string
    readonly from?: readonly (string | number)[]
    readonly to: readonly (string | number)[]
  }
>({
  kind: 'changed',
  name: 'a field of a task changes',
  args: {
    field: { type: 'field', label: 'Which field', of: 'told' },
    from: { type: 'values', label: 'From what', of: 'field' },
    to: { type: 'values', label: 'To what', of: 'field' },
  },
  blank: { field: 'kind', from: [], to: [] },
  words: (change, say) => sayChange(change, 'of a task', say),
})
