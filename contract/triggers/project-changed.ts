import { sayChange, type Change } from './change.ts'
import { trigger } from './trigger.ts'

export const projectChanged = trigger<'project-changed', Change>({
  kind: 'project-changed',
  name: 'a field of a project changes',
  about: 'project',
  args: {
    field: { type: 'field', label: 'Which field', of: 'project' },
    from: { type: 'values', label: 'From what', of: 'field' },
    to: { type: 'values', label: 'To what', of: 'field' },
  },
  blank: { field: 'project.state', from: [], to: [] },
  words: (change, say) => sayChange(change, '', say),
})
