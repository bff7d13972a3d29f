import { action } from './action.ts'

export const tag = action<'tag', { readonly off: boolean; readonly tags: readonly number[] }>({
  kind: 'tag',
  name: 'Set tags',
  args: {
    off: { type: 'either', label: 'On or off', no: 'put on', yes: 'taken off' },
    tags: { type: 'chosen', label: 'Tags', path: 'tag' },
  },
  blank: { off: false, tags: [] },
  changes: () => [{ place: 'task.changed:tag' }],
  words({ off, tags }, say) {
    const named = tags.length ? say.values('tag', tags) : '…'
    return off ? `take the tags ${named} off` : `tag it ${named}`
  },
})
