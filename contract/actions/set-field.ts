import type { Plain } from '#core/fields/parse.ts'
import { action } from './action.ts'

export const setField = action<'set-field', { readonly field: string; readonly value: Plain }>({
  kind: 'set-field',
  name: 'Set a field',
  args: {
    field: { type: 'field', label: 'Which field', of: 'settable' },
    value: { type: 'value', label: 'To what', of: 'field' },
  },
  blank: { field: 'priority', value: 'high' },
  changes: ({ field, value }) => [{ place: `task.changed:${field}`, to: value }],
  words: ({ field, value }, say) =>
    value === null || value === ''
      ? `empty its ${say.field(field)}`
      : `set its ${say.field(field)} to ${say.value(field, value)}`,
})
