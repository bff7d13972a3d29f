import { trigger } from './trigger.ts'

export const changed = trigger<
  'changed',
  { readonly field: string; readonly to: readonly (string | number)[] }
>({
  kind: 'changed',
  name: 'a field of a task changes',
  args: {
    field: { type: 'field', label: 'Which field' },
    to: { type: 'values', label: 'To what', of: 'field' },
  },
  blank: { field: 'kind', to: [] },
  words: ({ field, to }, say) =>
    to.length
      ? `${say.field(field)} of a task becomes ${say.values(field, to)}`
      : `${say.field(field)} of a task changes`,
})
